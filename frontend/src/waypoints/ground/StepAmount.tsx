import { needs } from "../../viewport/subjects/register";
import type { Step } from "../../api/types";
import { NumberToken } from "../../kit/NumberToken";
import { useDocument, useProject } from "../../document/document";
import { previews } from "../../viewport/preview";
import { useView } from "../../viewport/view";

/** How far a step goes from before to after; what is looked at follows the hand. */
export function StepAmount({ step }: { step: Step }) {
  const { id } = useProject();
  const edit = useDocument((store) => store.edit);
  const set = (percent: number): Step => ({ ...step, amount: percent / 100 });
  const preview = (percent: number | null) => {
    const [map] = needs(useView.getState().subject);
    if (percent === null || !map) previews.clear();
    else previews.ask(id, map, [{ op: "set_step", step: set(percent) }]);
  };
  return (
    <>
      {", at "}
      <NumberToken
        label="Strength of the step"
        value={Math.round((step.amount ?? 1) * 100)}
        unit="%"
        min={0}
        max={100}
        step={1}
        decimals={0}
        onPreview={preview}
        onCommit={async (percent, key) => {
          const saved = await edit([{ op: "set_step", step: set(percent) }], {
            merge: key ? `step:${step.id}:amount` : "",
            what: "the strength of a step",
          });
          previews.clear();
          return saved;
        }}
      />
    </>
  );
}
