import { useState } from "react";
import { fetchBeside } from "../../api/maps";
import type { Coat } from "../../api/types";
import { useProject } from "../../document/document";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { trim } from "../../kit/numbers";
import { SideBySide } from "./SideBySide";

/** An aerial image as it is laid, beside the same enlarged plainly, as closely as one likes. */
export function EnlargedBeside({ coat }: { coat: Coat }) {
  const { home } = useProject();
  const [finer, setFiner] = useState<number | null>(null);
  const ground = Math.max(home.spacing_y, home.spacing_x);
  return (
    <SideBySide
      name="enlarged"
      open="Look beside plain enlargement"
      close="Hide the plain enlargement"
      left="as it is laid"
      right="enlarged plainly"
      of={`${coat.id} ${finer}`}
      ask={(project, place, signal) => fetchBeside(project, coat.id, { ...place, finer }, signal)}
    >
      {({ sample, grid }) => {
        const step = Math.max(grid.spacing_y, grid.spacing_x);
        return (
          <>
            A sample of the picture covers {metres(sample)}
            {step < sample ? "" : ", so there is nothing to enlarge"}; here are samples of{" "}
            <ChoiceToken
              label="Samples here"
              value={String(finer ?? Math.round(ground / step))}
              choices={times(Math.round(ground / step)).map((many) => ({
                value: String(many),
                label: metres(ground / many),
              }))}
              onChange={(next) => setFiner(Number(next))}
            />
          </>
        );
      }}
    </SideBySide>
  );
}

const metres = (value: number) => `${trim(Number(value.toPrecision(3)), 4)}\u00a0m`;

/** How many times finer than the ground one may look, and the one that is looked at. */
const times = (shown: number) => [...new Set([1, 2, 4, 8, 16, shown])].sort((a, b) => a - b);
