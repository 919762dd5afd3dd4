import { useState } from "react";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { NumberToken } from "../../kit/NumberToken";
import { useProject } from "../../document/document";
import { fileLies, samplesMore } from "../../viewport/places";
import { useGroundEdit } from "./useGroundEdit";

/** Spacing, or width and length, of the file; both axes together or each alone. */
export function SizeSentence() {
  const { ground } = useProject().document;
  const set = useGroundEdit();
  const [by, setBy] = useState<"spacing" | "extent">("spacing");
  const locked = ground.ratio_locked !== false;
  const along = (axis: "x" | "y", spacing: number, key: boolean) => {
    const own = axis === "x" ? "spacing_x" : "spacing_y";
    const other = axis === "x" ? "spacing_y" : "spacing_x";
    const ratio = (ground[other] ?? 1) / (ground[own] ?? 1);
    return set({ [own]: spacing, ...(locked ? { [other]: spacing * ratio } : {}) }, key, own);
  };
  const length = (label: string, axis: "x" | "y") => {
    const spacing = (axis === "x" ? ground.spacing_x : ground.spacing_y) ?? 1;
    const spans = (axis === "x" ? ground.cols : ground.rows) - samplesMore(fileLies(ground));
    const k = by === "spacing" ? 1 : spans;
    return (
      <NumberToken
        label={label}
        value={spacing * k}
        unit="m"
        min={0.001 * k}
        max={10000 * k}
        step={by === "spacing" ? 0.1 : 10}
        decimals={by === "spacing" ? 4 : 2}
        onCommit={(value, key) => along(axis, value / k, key)}
      />
    );
  };
  return (
    <div>
      <ChoiceToken
        label="What is typed of the size"
        value={by}
        choices={[
          { value: "spacing", label: "Samples lie" },
          { value: "extent", label: "The file spans" },
        ]}
        onChange={(v) => setBy(v as typeof by)}
      />{" "}
      {length(by === "spacing" ? "Spacing east–west" : "Width", "x")}{" "}
      {by === "spacing" ? "apart east–west and" : "east–west and"}{" "}
      {length(by === "spacing" ? "Spacing north–south" : "Length", "y")} north–south,{" "}
      <ChoiceToken
        label="Ratio of both"
        value={locked ? "locked" : "free"}
        choices={[
          { value: "locked", label: "changed together" },
          { value: "free", label: "each alone" },
        ]}
        onChange={(v) => void set({ ratio_locked: v === "locked" }, false, "ratio")}
      />
      ; the outermost lie{" "}
      <ChoiceToken
        label="What samples stand for"
        value={ground.samples ?? "border"}
        choices={[
          { value: "border", label: "on its border" },
          { value: "cells", label: "half a cell inside" },
        ]}
        onChange={(v) => void set({ samples: v as "border" | "cells" }, false, "samples")}
      />
    </div>
  );
}
