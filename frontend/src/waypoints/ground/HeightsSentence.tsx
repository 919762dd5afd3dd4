import { Button } from "@mui/material";
import { ask, client, sentence } from "../../api/client";
import type { Ground } from "../../api/types";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { NumberToken } from "../../kit/NumberToken";
import { settled, useDocument, useProject } from "../../document/document";
import { fileLies, nearestTo } from "../../viewport/places";
import { trim } from "../../kit/numbers";
import { useTools } from "../../viewport/tools";
import { MetresToken } from "./MetresToken";
import { useGroundEdit } from "./useGroundEdit";

type Points = NonNullable<Ground["points"]>;
type Which = keyof Points;

/** How heights are taken from the file: between two ends, as stored, or from two places whose heights are known. */
export function HeightsSentence() {
  const { document, codes } = useProject();
  const { ground } = document;
  const set = useGroundEdit();
  const read = useReadPoint();
  /** Heights at two corners as they are now: a pair of points to begin with. */
  const takePoints = async () => {
    const { rows, cols } = ground;
    const [first, second] = await Promise.all([read(0, 0), read(rows - 1, cols - 1)]);
    await set({ heights: "points", points: { first, second } }, false, "heights");
  };
  /** Nothing moves when heights are told in another way: what stands there then is what it was. */
  const choose = async (how: Ground["heights"]) => {
    if (how === "points") return takePoints();
    const { at_black, at_white, metres_a_step, at_zero } = codes ?? {};
    const same = how === "ends" ? { at_black, at_white } : how === "step" ? { metres_a_step, at_zero } : {};
    await set({ heights: how, ...same }, false, "heights");
  };
  const stretched = ground.heights === undefined || ground.heights === "range" || ground.heights === "points";
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
          ...(codes
            ? [
                { value: "ends", label: "from black to white of the format" },
                { value: "step", label: "by metres a step" },
              ]
            : []),
        ]}
        onChange={(v) => void choose(v as Ground["heights"])}
      />
      {ground.heights === "range" && (
        <>
          : <MetresToken label="Low" value={ground.low ?? 0} onCommit={(v, key) => set({ low: v }, key, "low")} /> to{" "}
          <MetresToken label="High" value={ground.high ?? 0} onCommit={(v, key) => set({ high: v }, key, "high")} />
        </>
      )}
      {ground.heights === "ends" && codes && (
        <>
          : black, stored {trim(codes.black, 0)}, is{" "}
          <MetresToken
            label="Black is"
            value={ground.at_black ?? 0}
            onCommit={(v, key) => set({ at_black: v }, key, "at_black")}
          />{" "}
          and white, stored {trim(codes.white, 0)}, is{" "}
          <MetresToken
            label="White is"
            value={ground.at_white ?? 0}
            onCommit={(v, key) => set({ at_white: v }, key, "at_white")}
          />
        </>
      )}
      {ground.heights === "step" && (
        <>
          :{" "}
          <NumberToken
            label="Metres a step"
            value={ground.metres_a_step ?? 1}
            unit="m"
            min={0.000001}
            max={20000}
            step={0.001}
            decimals={8}
            onCommit={(v, key) => set({ metres_a_step: v }, key, "metres_a_step")}
          />{" "}
          a step, stored 0 is{" "}
          <MetresToken
            label="Stored 0 is"
            value={ground.at_zero ?? 0}
            onCommit={(v, key) => set({ at_zero: v }, key, "at_zero")}
          />
        </>
      )}
      {ground.heights === "points" && ground.points && (
        <>
          : <KnownPoint which="first" points={ground.points} /> and <KnownPoint which="second" points={ground.points} />
        </>
      )}
      {stretched && codes && (
        <>
          . Under another file{" "}
          <ChoiceToken
            label="What keeps its metres under another file"
            value={ground.on_replace ?? "codes"}
            choices={[
              { value: "codes", label: "every stored number keeps its metres" },
              { value: "ends", label: "its own lowest and highest stand for these" },
            ]}
            onChange={(v) => void set({ on_replace: v as "codes" | "ends" }, false, "on_replace")}
          />
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
  return nearestTo(fileLies(ground), { east, south });
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
