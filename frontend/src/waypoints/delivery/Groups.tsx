import { Box, ButtonBase, Checkbox } from "@mui/material";
import { useEffect, useEffectEvent, useState } from "react";
import { useDeliveries } from "../../document/queries";
import type { ItemChoice, Plan, PlanItem } from "../../api/types";
import { Heading } from "../../kit/Card";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { useDocument, useProject } from "../../document/document";
import { type Written, useViewParts } from "../../viewport/view";
import { MONO, roles } from "../../kit/theme";
import { MapThumb } from "../../viewport/MapThumb";
import { ItemInset } from "./ItemInset";
import { SeveralInset } from "./SeveralInset";
import { formWords, subjectOf, writtenOf } from "./itemSubject";

/** The files in groups by kind; the chosen one opens, and several can be changed at once. */
export function Groups({ plan }: { plan: Plan }) {
  const edit = useDocument((store) => store.edit);
  const { document } = useProject();
  const { show, written } = useViewParts("show", "written");
  const [several, setSeveral] = useState<Set<string>>(new Set());
  const items = plan.groups.flatMap((group) => group.items);
  const picked = items.filter((item) => several.has(item.of));
  const change = (choices: ItemChoice[]) => edit([{ op: "set_items", items: choices }]);
  const trial: Written["trial"] = plan.trial && {
    west: plan.trial.east,
    north: plan.trial.south,
    width: plan.trial.width,
    length: plan.trial.length,
  };
  const look = (item: PlanItem) => show(subjectOf(item.of, document), writtenOf(item, trial));
  // What is delivered is looked at: at first the first file, and again where the one that was is gone; whoever then
  // looks at something else is left alone.
  const [first] = items;
  const none = first === undefined;
  const gone = written !== null && !items.some((item) => item.of === written.of);
  const begin = useEffectEvent(() => first && (gone || !written) && look(first));
  useEffect(() => {
    if (!none || gone) begin();
  }, [none, gone]);
  // Another plan writes it in another way.
  const chosen = items.find((item) => item.of === written?.of);
  const way = chosen && JSON.stringify(writtenOf(chosen, trial));
  const renew = useEffectEvent(() => chosen && look(chosen));
  useEffect(() => {
    if (way) renew();
  }, [way]);
  return (
    <>
      {plan.groups.map((group) => (
        <Box key={group.id} role="group" aria-label={group.title}>
          <Heading aside={`${count(group.items)} ${count(group.items) === 1 ? "file" : "files"}`}>
            {group.title}
          </Heading>
          {group.items.map((item) => (
            <Box key={item.of}>
              <Row
                item={item}
                chosen={written?.of === item.of}
                ticked={several.has(item.of)}
                onLook={() => look(item)}
                onTick={(on) => {
                  const next = new Set(several);
                  if (on) next.add(item.of);
                  else next.delete(item.of);
                  setSeveral(next);
                }}
                onForm={(form) => void change([{ ...item.choice, form }])}
              />
              {written?.of === item.of && <ItemInset item={item} onChange={(choice) => change([choice])} />}
            </Box>
          ))}
        </Box>
      ))}
      {picked.length > 0 && (
        <SeveralInset items={picked} tokens={plan.tokens} onChange={change} onDone={() => setSeveral(new Set())} />
      )}
    </>
  );
}

function count(items: PlanItem[]): number {
  return items.reduce((sum, item) => sum + item.files, 0);
}

interface RowProps {
  item: PlanItem;
  chosen: boolean;
  ticked: boolean;
  onLook: () => void;
  onTick: (on: boolean) => void;
  onForm: (form: string) => void;
}

/** One map: its picture, name, format; pressed, it is looked at as it will be written. */
/** What the newest fit check found wrong with a map; null where it found nothing. */
function useWrong(of: string): string | null {
  const checked = useDeliveries().data?.find((delivery) => delivery.job.state === "done")?.fit;
  const files = checked?.maps?.find((map) => map.of === of)?.files ?? [];
  return checked?.findings.find((item) => item.severity === "error" && files.includes(item.file))?.message ?? null;
}

function Row({ item, chosen, ticked, onLook, onTick, onForm }: RowProps) {
  const { document } = useProject();
  const wrong = useWrong(item.of);
  const stem = item.name.replace(/\.[^.]*$/, "");
  const [, ...words] = formWords(item);
  const shown = item.files > 1 ? `${stem.replace(/_x\d+_y\d+$/, "")} · ${item.files} tiles` : stem;
  return (
    <Box
      sx={{
        display: "flex",
        alignItems: "center",
        gap: 0.8,
        py: 0.4,
        borderBottom: "1px dashed",
        borderColor: "divider",
        fontSize: 12.5,
        bgcolor: chosen ? roles.gentianWash : "transparent",
        borderRadius: chosen ? 1 : 0,
      }}
    >
      <Checkbox
        size="small"
        checked={ticked}
        onChange={(event) => onTick(event.target.checked)}
        slotProps={{ input: { "aria-label": `Choose ${item.name}` } }}
        sx={{ p: 0.3 }}
      />
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <ButtonBase
          onClick={onLook}
          aria-label={item.files > 1 ? `Look at ${shown}: ${item.name}` : `Look at ${item.name}`}
          aria-expanded={chosen}
          sx={{ display: "flex", gap: 0.8, width: "100%", justifyContent: "flex-start", borderRadius: 1 }}
        >
          <Box component="span" sx={{ position: "relative", lineHeight: 0 }}>
            <MapThumb subject={subjectOf(item.of, document)} width={34} height={24} lazy />
            {wrong && (
              <Box
                component="span"
                role="img"
                aria-label={`The newest fit check: ${wrong}`}
                title={wrong}
                sx={{
                  position: "absolute",
                  right: -4,
                  top: -4,
                  width: 14,
                  height: 14,
                  borderRadius: "50%",
                  bgcolor: roles.amber,
                  color: roles.card,
                  fontSize: 11,
                  lineHeight: "14px",
                  fontWeight: 800,
                  textAlign: "center",
                }}
              >
                !
              </Box>
            )}
          </Box>
          <Box
            component="span"
            sx={{
              fontFamily: MONO,
              fontSize: 12,
              overflow: "hidden",
              textOverflow: "ellipsis",
              whiteSpace: "nowrap",
              textAlign: "left",
            }}
          >
            {shown}
          </Box>
        </ButtonBase>
        {item.kind === "height" && (
          <Box sx={{ color: "text.secondary", fontFamily: MONO, fontSize: 11, pl: "41px", mt: -0.3 }}>{item.ends}</Box>
        )}
      </Box>
      <ChoiceToken
        label={`Format of ${item.name}`}
        value={item.form}
        text={item.format}
        choices={item.forms.map((form) => ({
          value: form.id,
          label: form.loss
            ? `${form.title}: ${form.loss}`
            : form.remark
              ? `${form.title} (${form.remark})`
              : form.title,
        }))}
        onChange={onForm}
      />
      {(item.kind === "height" ? [] : words).map((word) => (
        <Box key={word} component="span" sx={{ color: "text.secondary", whiteSpace: "nowrap", fontSize: 11.5 }}>
          {word}
        </Box>
      ))}
    </Box>
  );
}
