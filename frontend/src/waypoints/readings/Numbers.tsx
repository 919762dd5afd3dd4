import { named } from "../../api/mapNames";
import { Box, Typography } from "@mui/material";
import { useStats } from "../../document/queries";
import type { Reading, Stats } from "../../api/types";
import { short } from "../../kit/numbers";
import { Heading } from "../../kit/Card";
import { phrases } from "../../kit/sentence";
import { MONO } from "../../kit/theme";
import { trim } from "../../kit/numbers";
import { PlainHistogram } from "../recipe/PlainHistogram";

/** Histogram and statistics of a reading; for heights also how much of the ground lies above each. */
export function Numbers({ reading }: { reading: Reading }) {
  const stats = useStats(named.reading(reading.name));
  const found = stats.data;
  const unit = (value: number) => {
    const text = reading.scale === "log" ? short(value) : trim(value, reading.decimals);
    return reading.unit === "°" ? `${text}°` : `${text} ${reading.unit}`.trim();
  };
  return (
    <>
      <Heading
        aside={reading.scale === "log" ? "even on the logarithm" : reading.above ? "line: share of ground above" : ""}
      >
        How it is spread
      </Heading>
      {found && (
        <PlainHistogram
          stats={found}
          label={`Histogram of ${reading.title.toLowerCase()}`}
          above={reading.above ? shareAbove(found) : undefined}
        />
      )}
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(4, 1fr)", fontSize: 12, mt: 0.5, gap: 0.5 }}>
        {(
          [
            ["Least", found?.low],
            ["Mean", found?.mean],
            ["90 % below", found?.below_90],
            ["Most", found?.high],
          ] as const
        ).map(([title, value]) => (
          <div key={title}>
            <Typography variant="caption" color="textSecondary">
              {title}
            </Typography>
            <Box sx={{ fontFamily: MONO, fontSize: 12 }}>{value === undefined ? "…" : unit(value)}</Box>
          </div>
        ))}
      </Box>
      {found?.beyond && (
        <Typography variant="body2" sx={{ mt: 0.8 }}>
          {phrases(found.beyond).map((phrase, i) =>
            phrase.kind === "bold" ? <b key={i}>{phrase.text}</b> : phrase.text,
          )}
        </Typography>
      )}
    </>
  );
}

/** The hypsometric curve: what part of the ground lies above the beginning of each bin. */
export function shareAbove(stats: Pick<Stats, "counts">): number[] {
  let left = stats.counts.reduce((sum, count) => sum + count, 0);
  return stats.counts.map((count) => {
    const here = left;
    left = Math.max(left - count, 0);
    return Math.min(here, 1);
  });
}
