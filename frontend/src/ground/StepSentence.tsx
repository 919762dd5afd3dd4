import type { Step } from "../api/types";
import { ChoiceToken } from "../parts/ChoiceToken";
import { NumberToken } from "../parts/NumberToken";
import { useDocument, useProject } from "../state/document";

type Of<K extends Step["kind"]> = Extract<Step, { kind: K }>;

/** A step of preparation as a sentence whose numbers are tokens. */
export function StepSentence({ step }: { step: Step }) {
  const edit = useDocument((store) => store.edit);
  const { home } = useProject();
  const change = <S extends Step>(next: S, field: string, key = false) =>
    edit([{ op: "set_step", step: next }], { merge: key ? `step:${step.id}:${field}` : "", what: "a step" });
  const token = <S extends Step>(
    of: S,
    field: keyof S & string,
    label: string,
    [unit, min, max, by, decimals]: [string, number, number, number, number],
  ) => (
    <NumberToken
      label={label}
      value={Number(of[field])}
      unit={unit}
      min={min}
      max={max}
      step={by}
      decimals={decimals}
      onCommit={(value, key) => change({ ...of, [field]: value }, field, key)}
    />
  );
  const choice = <S extends Step>(of: S, field: keyof S & string, label: string, choices: [string, string][]) => (
    <ChoiceToken
      label={label}
      value={String(of[field])}
      choices={choices.map(([value, text]) => ({ value, label: text }))}
      onChange={(value) =>
        void change({ ...of, [field]: typeof of[field] === "number" ? Number(value) : value }, field)
      }
    />
  );
  const seed = (of: Of<"refine"> | Of<"erode">) => <>seed {token(of, "seed", "Seed", ["", 0, 99999, 1, 0])}</>;
  switch (step.kind) {
    case "fill_voids":
      return (
        <>
          <b>Fill</b> missing samples from their surroundings
        </>
      );
    case "mend_edges":
      return (
        <>
          <b>Mend</b> the outer {token(step, "samples", "Border lines", ["lines", 1, 16, 1, 0])} of the border
        </>
      );
    case "crop":
      return (
        <>
          <b>Crop</b> to {token(step, "width", "Width of the crop", ["m", 1, 1e6, 10, 1])} by{" "}
          {token(step, "length", "Length of the crop", ["m", 1, 1e6, 10, 1])}, from{" "}
          {token(step, "west", "West border of the crop", ["m", 0, 1e6, 10, 1])} east and{" "}
          {token(step, "north", "North border of the crop", ["m", 0, 1e6, 10, 1])} south of the corner
        </>
      );
    case "resample":
      return (
        <>
          <b>Resample</b> to {token(step, "cols", "Columns", ["columns", 8, 8193, 1, 0])} by{" "}
          {token(step, "rows", "Rows", ["rows", 8, 8193, 1, 0])},
          <NumberToken
            label="Spacing after resampling"
            value={home.width / (step.cols - 1)}
            unit="m"
            min={0.001}
            max={10000}
            step={0.1}
            decimals={3}
            onCommit={(metres, key) =>
              change(
                {
                  ...step,
                  cols: Math.max(Math.round(home.width / metres) + 1, 8),
                  rows: Math.max(Math.round(home.length / metres) + 1, 8),
                },
                "spacing",
                key,
              )
            }
          />{" "}
          apart
        </>
      );
    case "refine":
      return (
        <>
          <b>Refine</b>{" "}
          {choice(step, "times", "Times as many samples", [
            ["2", "2 times"],
            ["4", "4 times"],
            ["8", "8 times"],
          ])}{" "}
          as many samples, fine relief {token(step, "detail", "Fine relief", ["m", 0, 200, 0.1, 2])} high on rough
          ground, {seed(step)}
        </>
      );
    case "un_terrace":
      return (
        <>
          <b>Un-terrace</b> stairs{" "}
          <ChoiceToken
            label="Height of stairs"
            value={step.step === null || step.step === undefined ? "found" : "typed"}
            choices={[
              { value: "found", label: "as high as found" },
              { value: "typed", label: "of a typed height" },
            ]}
            onChange={(value) => void change({ ...step, step: value === "found" ? null : 1 }, "step")}
          />
          {typeof step.step === "number" && token(step, "step", "Stair height", ["m", 0.0001, 1000, 0.1, 4])}
        </>
      );
    case "smooth":
      return (
        <>
          <b>Smooth</b> over {token(step, "radius", "Radius of smoothing", ["m", 0.01, 5000, 1, 2])},{" "}
          <ChoiceToken
            label="What is kept"
            value={typeof step.keep === "number" ? "edges" : "nothing"}
            choices={[
              { value: "nothing", label: "edges too" },
              { value: "edges", label: "but not edges higher than" },
            ]}
            onChange={(value) => void change({ ...step, keep: value === "edges" ? 2 : null }, "keep")}
          />
          {typeof step.keep === "number" && token(step, "keep", "Edges kept", ["m", 0.001, 10000, 0.1, 3])}
        </>
      );
    case "soften":
      return (
        <>
          <b>Soften</b> ground steeper than {token(step, "angle", "Softened above", ["°", 1, 89, 1, 1])}
        </>
      );
    case "slump":
      return (
        <>
          <b>Slump</b> ground steeper than {token(step, "angle", "Slumps to", ["°", 1, 89, 1, 1])}
        </>
      );
    case "erode":
      return (
        <>
          <b>Erode</b> by {token(step, "rain", "Rain", ["drops a sample", 0.01, 4, 0.05, 2])} of strength{" "}
          {token(step, "strength", "Strength of erosion", ["", 0.02, 2, 0.05, 2])}, {seed(step)}
        </>
      );
    case "flatten":
      return (
        <>
          <b>Flatten</b> all{" "}
          {choice(step, "side", "Which side", [
            ["below", "below"],
            ["above", "above"],
          ])}{" "}
          {token(step, "height", "Flattened at", ["m", -20000, 20000, 1, 2])}, rounded within{" "}
          {token(step, "blend", "Rounded within", ["m", 0, 1000, 0.5, 1])}
        </>
      );
    case "raise":
      return (
        <>
          <b>Raise</b> by {token(step, "by", "Raised by", ["m", -20000, 20000, 1, 2])}
        </>
      );
    case "multiply":
      return (
        <>
          <b>Multiply</b> heights {token(step, "factor", "Factor", ["×", 0.01, 20, 0.05, 2])} about{" "}
          {token(step, "about", "About", ["m", -20000, 20000, 1, 1])}
        </>
      );
    case "turn":
      return (
        <>
          <b>Turn</b>{" "}
          {choice(step, "how", "How it is turned", [
            ["right", "a quarter clockwise"],
            ["left", "a quarter anticlockwise"],
            ["half", "half round"],
            ["north_south", "north for south (mirror)"],
            ["east_west", "east for west (mirror)"],
            ["transpose", "rows for columns"],
          ])}
        </>
      );
  }
}
