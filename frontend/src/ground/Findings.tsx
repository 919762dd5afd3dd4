import { Box, Button, ButtonBase, Typography } from "@mui/material";
import CheckIcon from "@mui/icons-material/Check";
import type { Diagnosis, Step, StepKind } from "../api/types";
import { Heading, Piece } from "../parts/Card";
import { newId, useDocument } from "../state/document";
import { useView } from "../state/view";
import { MapThumb } from "../viewport/MapThumb";
import { freshStep, STEP_TITLES } from "./steps";

type Finding = Diagnosis["findings"][number];

/** What is odd about the prepared ground: where it is, and the step that takes it away. */
export function Findings({ diagnosis }: { diagnosis: Diagnosis | undefined }) {
  const edit = useDocument((store) => store.edit);
  if (!diagnosis) return null;
  const many = diagnosis.findings.filter((item) => item.severity === "attention").length;
  return (
    <>
      <Heading aside={many ? <Amber>{many === 1 ? "1 to look at" : `${many} to look at`}</Amber> : undefined}>
        What we found
      </Heading>
      {diagnosis.findings.map((item) => (
        <Row key={item.code} item={item} />
      ))}
      {diagnosis.findings.length === 0 && (
        <Piece>
          <Good title="Nothing odd" text="No stairs, gaps, border spikes, noise or cut-off heights." />
        </Piece>
      )}
      {diagnosis.legal.map((item) => (
        <Piece key={item.target}>
          {item.legal ? (
            <Good title={`Legal for ${item.target}`} text={`It ${item.message}`} />
          ) : (
            <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
              <Box sx={{ flex: 1 }}>
                <Typography variant="body2" sx={{ fontWeight: 650 }}>
                  {item.target} takes other sizes
                </Typography>
                <Typography variant="caption" color="textSecondary">
                  It {item.message}
                </Typography>
              </Box>
              <Button
                variant="outlined"
                size="small"
                onClick={() => {
                  const { rows, columns: cols } = item.nearest;
                  const step: Step = { id: newId("step"), kind: "resample", muted: false, where: [], rows, cols };
                  void edit([{ op: "add_step", step }]);
                }}
              >
                Resample
              </Button>
            </Box>
          )}
        </Piece>
      ))}
    </>
  );
}

function Amber({ children }: { children: React.ReactNode }) {
  return (
    <Box component="b" sx={{ color: "warning.main" }}>
      {children}
    </Box>
  );
}

function Good({ title, text }: { title: string; text: string }) {
  return (
    <Box sx={{ display: "flex", alignItems: "center", justifyContent: "space-between" }}>
      <div>
        <Typography variant="body2" sx={{ fontWeight: 650 }}>
          {title}
        </Typography>
        <Typography variant="caption" color="textSecondary">
          {text}
        </Typography>
      </div>
      <CheckIcon fontSize="small" />
    </Box>
  );
}

function Row({ item }: { item: Finding }) {
  const edit = useDocument((store) => store.edit);
  const { subject, show } = useView();
  const shown = subject.kind === "ground" && subject.finding === item.code;
  const mend = () => {
    if (!item.mend) return;
    const kind = item.mend.kind as StepKind;
    const step = { ...freshStep(kind, newId("step")), ...item.mend } as Step;
    // Gaps must go before anything is measured on the ground.
    void edit([{ op: "add_step", step, ...(kind === "fill_voids" ? { at: 0 } : {}) }]);
    show({ kind: "ground", style: "heights" });
  };
  return (
    <Piece chosen={shown} data-testid={`finding-${item.code}`}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.2 }}>
        {item.where && (
          <ButtonBase
            aria-label={`Show where: ${item.title}`}
            aria-pressed={shown}
            onClick={() =>
              show(
                shown ? { kind: "ground", style: "heights" } : { kind: "ground", style: "heights", finding: item.code },
              )
            }
          >
            <MapThumb subject={{ kind: "ground", style: "heights", finding: item.code }} width={46} height={46} />
          </ButtonBase>
        )}
        <Box sx={{ flex: 1 }}>
          <Typography
            variant="body2"
            sx={{ fontWeight: 650, color: item.severity === "attention" ? "warning.main" : "text.primary" }}
          >
            {item.title}
          </Typography>
          <Typography variant="caption" color="textSecondary">
            {item.message}
          </Typography>
        </Box>
        {item.mend && (
          <Button variant="outlined" size="small" onClick={mend}>
            {STEP_TITLES[item.mend.kind as StepKind]}
          </Button>
        )}
      </Box>
    </Piece>
  );
}
