import { Box, Button, Typography } from "@mui/material";
import type { Schemas } from "../../api/client";
import { sentence } from "../../api/client";
import { useWhyMask } from "../../document/queries";
import type { Line, Mask } from "../../api/types";
import { Inset } from "../../kit/Card";
import { useDocument, useProject } from "../../document/document";
import { ASK_A_PLACE, useToolsParts } from "../../viewport/tools";
import { useViewParts } from "../../viewport/view";
import { MONO, roles } from "../../kit/theme";
import { trim } from "../../kit/numbers";
import type { Holder } from "../../document/holder";
import { nearestTo, northOf, placeOf } from "../../viewport/places";

type LineHere = Schemas["LineHereOut"];

/** Asks a place why it is in the mask or out of it. */
export function AskButton() {
  const { home } = useProject();
  const { set } = useViewParts("set");
  const { tool, take } = useToolsParts("tool", "take");
  const asking = tool?.kind === "point" && tool.title === ASK_A_PLACE;
  return (
    <Button
      size="small"
      color={asking ? "secondary" : "inherit"}
      aria-pressed={asking}
      onClick={() =>
        take(
          asking
            ? null
            : {
                kind: "point",
                title: ASK_A_PLACE,
                take: (place) =>
                  set({
                    why: nearestTo(home, place),
                  }),
              },
        )
      }
    >
      Why here?
    </Button>
  );
}

/** What decided at the place that was asked; its lines tell the rest. */
export function WhyMask({ mask }: { mask: Mask }) {
  const { home } = useProject();
  const { why, set } = useViewParts("why", "set");
  const { data, error } = useWhyMask(mask.id, why);
  if (!why) return null;
  return (
    <Inset data-testid="why-mask" chosen>
      <Box sx={{ display: "flex", justifyContent: "space-between", alignItems: "center" }}>
        <Typography variant="caption" color="textSecondary">
          East {trim(placeOf(home, why.row, why.col).east, 1)} m, north {trim(northOf(home, why.row), 1)} m
        </Typography>
        <Button size="small" color="inherit" onClick={() => set({ why: null })} sx={{ minHeight: 24 }}>
          Ask no more
        </Button>
      </Box>
      {error && <Typography color="error">{sentence(error)}</Typography>}
      {data && (
        <Typography variant="body2">
          <b>{data.strength.toFixed(2)}</b> {data.says}
        </Typography>
      )}
    </Inset>
  );
}

interface HereProps {
  holder: Holder;
  line: Line;
  here: LineHere | undefined;
}

/** What a line reads at the place that was asked, what it makes of it, and numbers that would change it. */
export function LineAtPlace({ holder, line, here }: HereProps) {
  const edit = useDocument((store) => store.edit);
  const { set } = useViewParts("set");
  if (!here) return null;
  const take = (field: string, name: string, value: number) => {
    const source = (line as unknown as Record<string, object>)[field];
    void edit([holder.set({ ...line, [field]: { ...source, [name]: value } } as Line)], {
      what: `a change to ${holder.name}`,
    });
  };
  return (
    <Box
      data-testid="line-here"
      onClick={(event) => event.stopPropagation()}
      sx={{
        mt: 0.5,
        pl: 1,
        borderLeft: `3px solid ${here.decides ? roles.gentian : roles.rule}`,
        fontSize: 12.5,
        lineHeight: 1.5,
      }}
    >
      <Box sx={{ display: "flex", justifyContent: "space-between", gap: 1 }}>
        <span>{here.decides ? <b>Decides here</b> : here.muted ? "Muted" : ""}</span>
        <Box component="span" sx={{ fontFamily: MONO, whiteSpace: "nowrap" }}>
          {here.before.toFixed(2)} → {here.after.toFixed(2)}
        </Box>
      </Box>
      {here.reads.map((read) => (
        <Box key={read.field}>
          {read.says}
          {read.mask && (
            <Button
              size="small"
              sx={{ minHeight: 24, py: 0 }}
              onClick={() => set({ selectedMask: read.mask, selectedLine: null })}
            >
              Why there?
            </Button>
          )}
          {read.offers.map((offer) => (
            <Button
              key={offer.field}
              size="small"
              sx={{ minHeight: 24, py: 0, textAlign: "left" }}
              onClick={() => take(read.field, offer.field, offer.value)}
            >
              {offer.says}
            </Button>
          ))}
        </Box>
      ))}
    </Box>
  );
}
