import { SEEN } from "./seen";
import { Box, IconButton, Tooltip } from "@mui/material";
import PickIcon from "@mui/icons-material/ColorizeOutlined";
import { usePainting, useReadings } from "../../document/queries";
import type { Coat, Painting, Slot, Source } from "../../api/types";
import { sourceName, SourceTokens } from "../recipe/SourceTokens";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { ColourToken } from "../../kit/ColourToken";
import { NumberSlot, type SlotValue } from "../../kit/NumberSlot";
import { NumberToken } from "../../kit/NumberToken";
import { SlotSentence } from "../../kit/SlotSentence";
import { useProject } from "../../document/document";
import { useToolsParts } from "../../viewport/tools";
import { roles } from "../../kit/theme";
import { colourNear } from "./colourNear";
import { cssStops } from "./RampEditor";
import { fields, withFields, type CoatTell } from "./useCoatEdit";

interface CoatSentenceProps {
  coat: Coat;
  chosen: boolean;
  tell: CoatTell;
}

/** A coat as the sentence that the catalogue gives it, with what can be changed as tokens. */
export function CoatSentence({ coat, chosen, tell }: CoatSentenceProps) {
  const painting = usePainting();
  const kind = painting?.coats.find((item) => item.kind === coat.kind);
  if (!painting || !kind) return null;
  return (
    <>
      <SlotSentence sentence={chosen ? kind.sentence : brief(kind.sentence, coat)} slots={kind.slots}>
        {(slot) => <CoatSlot slot={slot} coat={coat} chosen={chosen} tell={tell} painting={painting} />}
      </SlotSentence>
      {coat.seen !== "both" && !kind.sentence.includes("{seen}") && (
        <>, {SEEN.find((item) => item.value === coat.seen)?.label.replace("Seen", "seen")}</>
      )}
    </>
  );
}

/** A sentence without what says nothing: no place, laid on as it is. */
function brief(sentence: string, coat: Coat): string {
  const values = fields(coat);
  return sentence
    .replace(/, \{(\w+)\}/g, (part: string, name: string) => (values[name] === null ? "" : part))
    .replace(/, laid on \{mode\} at/, (part) => (values["mode"] === "normal" ? " at" : part))
    .replace(/, enlarged .* grain/, (part) => (values["grain"] === 0 ? "" : part))
    .replace(/, \{seen\}/, (part) => (values["seen"] === "both" ? "" : part))
    .replace(/, seed \{seed\}/, "");
}

/** What is read, on a coat that is not open. */
function SourceName({ source }: { source: Source }) {
  const { document } = useProject();
  const readings = useReadings();
  return (
    <Box
      component="span"
      sx={{ bgcolor: roles.mossWash, borderRadius: 1, px: 0.8, py: 0.2, fontWeight: 600, fontSize: 13 }}
    >
      {sourceName(source, document, readings)}
    </Box>
  );
}

function CoatSlot({ slot, coat, chosen, tell, painting }: CoatSentenceProps & { slot: Slot; painting: Painting }) {
  const value = fields(coat)[slot.name];
  const set = (next: unknown) => withFields(coat, { [slot.name]: next });
  switch (slot.kind) {
    case "source":
      if (!chosen)
        return value ? (
          <>
            {slot.lead}
            <SourceName source={value as Source} />
          </>
        ) : null;
      return (
        <>
          {value ? slot.lead : ""}
          <SourceTokens
            source={(value as Source | null | undefined) ?? null}
            mask={null}
            label={slot.title}
            {...(slot.none ? { none: slot.none } : {})}
            onPreview={(next) => tell.preview(next && set(next))}
            onCommit={(next, key, field) => tell.commit(set(next), key, `${slot.name}.${field}`)}
          />
        </>
      );
    case "colour":
      return (
        <PickedColour
          picks={chosen}
          label={slot.title}
          value={String(value)}
          onCommit={(colour) => void tell.commit(set(colour), false, slot.name)}
        />
      );
    case "stops":
      return chosen ? null : (
        <Box
          component="span"
          sx={{
            display: "inline-block",
            verticalAlign: "middle",
            width: 90,
            height: 12,
            borderRadius: 0.6,
            background: cssStops((coat as Extract<Coat, { kind: "ramp" }>).stops),
          }}
        />
      );
    case "picture":
      return (
        <ChoiceToken
          label={slot.title}
          value={String(value)}
          choices={painting.pictures}
          onChange={(next) => void tell.commit(set(next), false, slot.name)}
        />
      );
    case "piece":
      return <PieceSlot coat={coat} tell={tell} painting={painting} />;
    default:
      return (
        <NumberSlot
          slot={slot}
          value={value as SlotValue}
          onPreview={(next) => tell.preview(next === undefined ? null : set(next))}
          onCommit={(next, key) => tell.commit(set(next), key, slot.name)}
        />
      );
  }
}

/** A colour, and a picker that reads any place of the colour map. */
function PickedColour({
  picks,
  label,
  value,
  onCommit,
}: {
  picks: boolean;
  label: string;
  value: string;
  onCommit: (value: string) => void;
}) {
  const state = useProject();
  const { tool, take } = useToolsParts("tool", "take");
  const active = tool?.kind === "point" && tool.title === label;
  return (
    <Box component="span" sx={{ display: "inline-flex", alignItems: "center", verticalAlign: "middle" }}>
      <ColourToken label={label} value={value} onCommit={onCommit} />
      {picks && (
        <Tooltip title={active ? "Click a place on the view" : "Take the colour of a place on the view"}>
          <IconButton
            size="small"
            aria-label={`Pick ${label.toLowerCase()} on the view`}
            aria-pressed={active}
            color={active ? "secondary" : "default"}
            onClick={() =>
              take(
                active
                  ? null
                  : {
                      kind: "point",
                      title: label,
                      take: (place) => {
                        const colour = colourNear(state, place);
                        if (colour) onCommit(colour);
                      },
                    },
              )
            }
            sx={{ width: 24, height: 24 }}
          >
            <PickIcon sx={{ fontSize: 15 }} />
          </IconButton>
        </Tooltip>
      )}
    </Box>
  );
}

/** A piece of coats and the numbers that it lets its users set. */
function PieceSlot({ coat, tell, painting }: { coat: Coat; tell: CoatTell; painting: Painting }) {
  const { document } = useProject();
  if (coat.kind !== "piece") return null;
  const pieces = document.coat_pieces ?? [];
  const piece = pieces.find((item) => item.id === coat.piece);
  return (
    <>
      <ChoiceToken
        label="Piece"
        value={coat.piece}
        choices={pieces.map((item) => ({ value: item.id, label: item.name }))}
        onChange={(next) => void tell.commit({ ...coat, piece: next, numbers: {} })}
      />
      {(piece?.exposed ?? []).map((exposed) => {
        const inner = piece?.coats.find((item) => item.id === exposed.line);
        const slot = painting.coats
          .find((item) => item.kind === inner?.kind)
          ?.slots.find((item) => item.name === exposed.field);
        const own = inner && Number(fields(inner)[exposed.field]);
        if (!slot || own === undefined) return null;
        const times = slot.unit === "%" ? 100 : 1;
        const set = (v: number) => ({ ...coat, numbers: { ...coat.numbers, [exposed.id]: v / times } });
        return (
          <span key={exposed.id}>
            , {exposed.title.toLowerCase()}{" "}
            <NumberToken
              label={exposed.title}
              value={Number(((coat.numbers?.[exposed.id] ?? own) * times).toFixed(4))}
              unit={slot.unit}
              min={slot.low * times}
              max={slot.high * times}
              step={slot.step * times}
              decimals={times === 100 ? 0 : slot.decimals}
              onPreview={(v) => tell.preview(v === null ? null : set(v))}
              onCommit={(v, key) => tell.commit(set(v), key, exposed.id)}
            />
          </span>
        );
      })}
    </>
  );
}
