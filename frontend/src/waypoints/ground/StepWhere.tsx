import { Box, Button } from "@mui/material";
import { useState } from "react";
import { useStepKinds } from "../../document/queries";
import type { Step } from "../../api/types";
import { stepHolder } from "../../document/holder";
import { LineCard } from "../recipe/LineCard";
import { ThenMenu } from "../recipe/ThenMenu";
import { useProject } from "../../document/document";
import { useViewParts } from "../../viewport/view";

/** "Only where": a recipe over the ground before the step; the step acts where it is strong. */
export function StepWhere({ step, index }: { step: Step; index: number }) {
  const { subject, show } = useViewParts("subject", "show");
  const { document } = useProject();
  const kinds = useStepKinds();
  const [chosen, setChosen] = useState<string | null>(null);
  const title = kinds.find((item) => item.kind === step.kind)?.title ?? step.kind;
  const holder = stepHolder(step, index, title);
  const { lines } = holder;
  // Where later steps cut or turn the ground, before and after cannot be laid one on the other.
  const steps = document.ground.steps ?? [];
  const lies = steps.slice(index).every((item) => item.muted || !kinds.find((kind) => kind.kind === item.kind)?.moves);
  const seen = subject.kind === "acts" && subject.step === index;
  return (
    <Box sx={{ fontSize: 13, mt: 0.5 }}>
      {lines.length > 0 && (
        <>
          <Box sx={{ display: "flex", alignItems: "center", justifyContent: "space-between" }}>
            <span>only where</span>
            {lies && (
              <Button
                size="small"
                color="inherit"
                aria-pressed={seen}
                sx={{ minHeight: 24, fontSize: 12 }}
                onClick={() => show(seen ? { kind: "ground", style: "heights" } : { kind: "acts", step: index })}
              >
                {seen ? "Back to the ground" : "Look at it"}
              </Button>
            )}
          </Box>
          <Box component="ol" aria-label={`Where ${title} acts`} sx={{ p: 0, m: 0 }}>
            {lines.map((line, at) => (
              <LineCard
                key={line.id}
                holder={holder}
                line={line}
                index={at}
                chosen={line.id === (chosen ?? lines[0]?.id)}
                onChoose={() => setChosen(line.id)}
              />
            ))}
          </Box>
        </>
      )}
      <ThenMenu holder={holder} begin="only where…" />
    </Box>
  );
}
