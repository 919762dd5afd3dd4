import { Box, Button, Typography } from "@mui/material";
import type { Delivery, Finding, Fit } from "../../api/types";
import { Inset } from "../../kit/Card";
import { useViewParts } from "../../viewport/view";
import { roles } from "../../kit/theme";
import { MapThumb } from "../../viewport/MapThumb";
import { fitSubject, mapOf } from "./subject";

interface FindingProps {
  finding: Finding;
  fit: Fit;
  delivery: Delivery;
  busy: boolean;
  onAgain: () => void;
  onTakeIn: (finding: Finding) => void;
}

/** One fault: where it is, what it is, and what mends it. */
export function FindingInset({ finding, fit, delivery, busy, onAgain, onTakeIn }: FindingProps) {
  const { show, look } = useFinding();
  const map = mapOf(fit, finding);
  const subject = map ? fitSubject(delivery, map, "difference") : null;
  const share = finding.share;
  return (
    <Inset role="group" aria-label={finding.message}>
      <Box sx={{ display: "flex", gap: 1.2, alignItems: "flex-start" }}>
        {subject && (
          <Box
            component="button"
            type="button"
            aria-label={`Show where ${finding.file} differs`}
            onClick={() => {
              show(subject);
              look(finding.place ?? null);
            }}
            sx={{
              p: 0,
              border: 1,
              borderColor: "divider",
              borderRadius: 1,
              overflow: "hidden",
              cursor: "pointer",
              flexShrink: 0,
              lineHeight: 0,
              bgcolor: "transparent",
              "&:focus-visible": { outline: `2px solid ${roles.gentian}`, outlineOffset: 2 },
            }}
          >
            <MapThumb subject={subject} width={52} height={52} />
          </Box>
        )}
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Typography
            variant="body2"
            color={finding.severity === "error" ? "warning" : "textPrimary"}
            sx={{ fontWeight: 700, overflowWrap: "anywhere" }}
          >
            {finding.message}
          </Typography>
          <Typography variant="caption" color="textSecondary" component="div">
            {finding.fix}
            {share !== null && share !== undefined && ` Explains ${(share * 100).toFixed(1)} % of the difference.`}
          </Typography>
          <Box sx={{ display: "flex", gap: 1, mt: 0.8, flexWrap: "wrap" }}>
            {finding.remedy === "deliver" && (
              <Button size="small" variant="contained" disabled={busy} onClick={onAgain}>
                Write it again
              </Button>
            )}
            {(finding.steps ?? []).length > 0 && (
              <Button size="small" variant="outlined" disabled={busy} onClick={() => onTakeIn(finding)}>
                Take it into the preparation
              </Button>
            )}
          </Box>
        </Box>
      </Box>
    </Inset>
  );
}

/** Showing a map, and going to a place on it (shares from the north-west). */
function useFinding() {
  const { show, set } = useViewParts("show", "set");
  const look = (place: readonly number[] | null) => {
    if (!place) return;
    const [top = 0, left = 0, bottom = 1, right = 1] = place;
    const size = Math.max(bottom - top, right - left, 0.02);
    const camera = { x: (left + right) / 2, y: (top + bottom) / 2, zoom: Math.min(Math.max(0.5 / size, 1), 12) };
    set({ camera });
  };
  return { show, look };
}
