import { Box, Button, ButtonBase, Typography } from "@mui/material";
import CheckIcon from "@mui/icons-material/Check";
import { useStepKinds } from "../../document/queries";
import type { Diagnosis, Operation } from "../../api/types";
import { Heading, Inset } from "../../kit/Card";
import { useDocument } from "../../document/document";
import { useViewParts } from "../../viewport/view";
import { MapThumb } from "../../viewport/MapThumb";
import { newStep, placeOf } from "./newStep";

type Oddity = Diagnosis["findings"][number];

/** What is odd about the prepared ground: where it is, and the step that takes it away. */
export function Findings({ diagnosis }: { diagnosis: Diagnosis | undefined }) {
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
        <Inset>
          <Good title="Nothing odd" text="No stairs, gaps, border spikes, noise or cut-off heights." />
        </Inset>
      )}
      {diagnosis.legal.map((item) => (
        <Inset key={item.target}>
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
              {item.mend && <MendButton mend={item.mend} />}
            </Box>
          )}
        </Inset>
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

/** Adds the step that takes an oddity away. */
function MendButton({ mend, onMended }: { mend: Record<string, unknown>; onMended?: () => void }) {
  const edit = useDocument((store) => store.edit);
  const kinds = useStepKinds();
  const kind = String(mend["kind"]);
  const add = () => {
    const step = newStep(kinds, kind, mend);
    void edit([{ op: "add_step", step, ...placeOf(kinds, step) }]);
    onMended?.();
  };
  return (
    <Button variant="outlined" size="small" onClick={add}>
      {kinds.find((item) => item.kind === kind)?.title ?? "Mend"}
    </Button>
  );
}

function Row({ item }: { item: Oddity }) {
  const { subject, show } = useViewParts("subject", "show");
  const edit = useDocument((store) => store.edit);
  const shown = subject.kind === "ground" && subject.finding === item.code;
  return (
    <Inset chosen={shown} data-testid={`finding-${item.code}`}>
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
        {item.mend && <MendButton mend={item.mend} onMended={() => show({ kind: "ground", style: "heights" })} />}
        {item.edit && (
          <Button variant="outlined" size="small" onClick={() => void edit([item.edit as Operation])}>
            {item.offers}
          </Button>
        )}
      </Box>
    </Inset>
  );
}
