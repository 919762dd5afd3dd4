import { Button } from "@mui/material";
import { ask, client, sentence } from "../../api/client";
import type { Ground } from "../../api/types";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { NumberToken } from "../../kit/NumberToken";
import { settled, useDocument, useProject } from "../../document/document";
import { useTools } from "../../viewport/tools";
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
  const { id } = useProject();
  return async (row: number, col: number) => {
    await settled();
    return ask(
      client.GET("/api/projects/{project_id}/file-sample", {
        params: { path: { project_id: id }, query: { row, col } },
      }),
    );
  };
}

/** The sample of the file under a place of the prepared ground. */
function inFile(ground: Ground, toFile: readonly number[], place: { east: number; south: number }) {
  const [a = 1, b = 0, c = 0, d = 0, e = 1, f = 0] = toFile;
  const east = a * place.east + b * place.south + c;
  const south = d * place.east + e * place.south + f;
  const within = (value: number, count: number) => Math.min(Math.max(Math.round(value), 0), count - 1);
  return {
    row: within(south / (ground.spacing_y ?? 1), ground.rows),
    col: within(east / (ground.spacing_x ?? 1), ground.cols),
  };
}

function KnownPoint({ which, points }: { which: Which; points: Points }) {
  const { document, to_file } = useProject();
  const { ground } = document;
  const set = useGroundEdit();
  const read = useReadPoint();
  const take = useTools((tools) => tools.take);
  const say = useDocument((store) => store.tell);
  const point = points[which];
  const click = () =>
    take({
      kind: "point",
      title: `Click the ${which} known point`,
      take: (spot) => {
        const at = inFile(ground, to_file, spot);
        read(at.row, at.col)
          .then((found) => set({ points: { ...points, [which]: found } }, false, `points-${which}`))
          .catch((error: unknown) => say(sentence(error)));
      },
    });
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
      at row {place("row", "Row", ground.rows)}, column {place("col", "Column", ground.cols)}{" "}
      <Button
        size="small"
        color="inherit"
        aria-label={`Click the ${which} point on the plan`}
        onClick={click}
        sx={{ minHeight: 24, px: 0.5, fontSize: 12 }}
      >
        on the plan
      </Button>
    </>
  );
}
