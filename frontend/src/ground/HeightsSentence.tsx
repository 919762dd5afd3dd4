import { ask, client } from "../api/client";
import type { Ground } from "../api/types";
import { ChoiceToken } from "../parts/ChoiceToken";
import { NumberToken } from "../parts/NumberToken";
import { useProject } from "../state/document";
import { fileEnds } from "../viewport/subjects";
import { MetresToken } from "./MetresToken";
import { useGroundEdit } from "./useGroundEdit";

type Points = NonNullable<Ground["points"]>;
type Which = keyof Points;

/** How heights are taken from the file: between two ends, as stored, or from two places whose heights are known. */
export function HeightsSentence() {
  const { ground } = useProject().document;
  const set = useGroundEdit();
  const read = useReadPoint();
  /** Heights at two corners as they are now: a pair of points to begin with. */
  const takePoints = async () => {
    const { rows, cols } = ground;
    const [first, second] = await Promise.all([read(0, 0), read(rows - 1, cols - 1)]);
    await set({ heights: "points", points: { first, second } }, false, "heights");
  };
  return (
    <div>
      Heights{" "}
      <ChoiceToken
        label="How heights are taken"
        value={ground.heights ?? "range"}
        choices={[
          { value: "range", label: "from low to high" },
          { value: "stored", label: "as stored, in metres" },
          { value: "points", label: "from two known points" },
        ]}
        onChange={(v) => (v === "points" ? void takePoints() : void set({ heights: v }, false, "heights"))}
      />
      {ground.heights === "range" && (
        <>
          : <MetresToken label="Low" value={ground.low ?? 0} onCommit={(v, key) => set({ low: v }, key, "low")} /> to{" "}
          <MetresToken label="High" value={ground.high ?? 0} onCommit={(v, key) => set({ high: v }, key, "high")} />
        </>
      )}
      {ground.heights === "points" && ground.points && (
        <>
          : <KnownPoint which="first" points={ground.points} /> and <KnownPoint which="second" points={ground.points} />
        </>
      )}
    </div>
  );
}

/** The stored value and the height at a sample of the file, as they are now. */
function useReadPoint() {
  const { document, id, home } = useProject();
  const { ground } = document;
  return async (row: number, col: number) => {
    const at = { row: Math.min(row, home.rows - 1), col: Math.min(col, home.cols - 1) };
    const found = await ask(
      client.GET("/api/projects/{project_id}/probe", {
        params: { path: { project_id: id }, query: { ...at, names: "at:0:height" } },
      }),
    );
    const [low, high] = fileEnds(ground);
    const height = found.values["at:0:height"] ?? low;
    const per = (ground.stored_high - ground.stored_low) / (high - low || 1);
    return { ...at, metres: height, stored: ground.stored_low + (height - low) * per };
  };
}

function KnownPoint({ which, points }: { which: Which; points: Points }) {
  const { ground } = useProject().document;
  const set = useGroundEdit();
  const read = useReadPoint();
  const point = points[which];
  const place = (axis: "row" | "col", label: string, count: number) => (
    <NumberToken
      label={`${label} of the ${which} point`}
      value={point[axis] + 1}
      unit=""
      min={1}
      max={count}
      step={1}
      decimals={0}
      onCommit={async (v, key) => {
        const at = { ...point, [axis]: Math.round(v) - 1 };
        const found = await read(at.row, at.col);
        return set({ points: { ...points, [which]: found } }, key, `points-${which}-${axis}`);
      }}
    />
  );
  return (
    <>
      <MetresToken
        label={`Height of the ${which} point`}
        value={point.metres}
        onCommit={(v, key) => set({ points: { ...points, [which]: { ...point, metres: v } } }, key, `points-${which}`)}
      />{" "}
      at row {place("row", "Row", ground.rows)}, column {place("col", "Column", ground.cols)}
    </>
  );
}
