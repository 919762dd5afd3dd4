import { named } from "../../api/mapNames";
import { Box, Button, Typography } from "@mui/material";
import { useGet } from "../../document/useGet";
import { fetchMap } from "../../api/maps";
import { sentence } from "../../api/client";
import type { Reading } from "../../api/types";
import { newId, settled, useDocument, useProject } from "../../document/document";
import { useTools, useToolsParts } from "../../viewport/tools";
import { useView, useViewParts } from "../../viewport/view";
import { nearestTo } from "../../viewport/places";

/** What can be done with a picture: laid right by hand, looked at both ways, and made a mask by one of its colours. */
export function PictureTools({ reading, onChoose }: { reading: Reading; onChoose: (name: string) => void }) {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const { subject, show, set } = useViewParts("subject", "show", "set");
  const { aligning, align } = useToolsParts("aligning", "align");
  const on = aligning === reading.name;
  const both = subject.kind === "picture" && subject.style === "both";
  const told = useGet("/api/projects/{project_id}/pictures/{reading_id}", {
    path: { reading_id: reading.name },
    stamp: [reading.key],
  }).data;
  const begin = async () => {
    const own = newId("likeness");
    const count = 1 + (document.readings ?? []).filter((item) => item.kind === "likeness").length;
    const name = count === 1 ? "Likeness to a colour" : `Likeness to a colour ${count}`;
    const setting = { id: own, kind: "likeness", name, numbers: { picture: reading.name } };
    if (!(await edit([{ op: "add_reading", setting }]))) return;
    onChoose(own);
    pickColour(own, reading.name);
  };
  return (
    <>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, mt: 0.8 }}>
        <Button
          size="small"
          variant={on ? "contained" : "outlined"}
          color={on ? "secondary" : "inherit"}
          aria-pressed={on}
          onClick={() => {
            align(on ? null : reading.name);
            if (!on) set({ mode: "plan" });
            if (!on) show({ kind: "picture", name: reading.name, style: "over" });
          }}
        >
          {on ? "Done moving it" : "Move it by hand"}
        </Button>
        <Button
          size="small"
          variant="outlined"
          color="inherit"
          aria-pressed={both}
          onClick={() => show({ kind: "picture", name: reading.name, style: both ? "colour" : "both" })}
        >
          Both ways of its samples
        </Button>
        <Button size="small" variant="outlined" color="inherit" onClick={() => void begin()}>
          Likeness to a colour…
        </Button>
      </Box>
      {on && (
        <Typography variant="caption" color="textSecondary" component="div" sx={{ mt: 0.5 }}>
          Drag inside to move, a corner to resize, the knob to turn. Arrow keys move it by a sample, + and − resize, [
          and ] turn; Shift goes ten times as far.
        </Typography>
      )}
      {told && (
        <Typography variant="caption" color="textSecondary" component="div" sx={{ mt: 0.5 }}>
          {told.says}
        </Typography>
      )}
    </>
  );
}

/** Let a colour be picked on a picture: the mean of the sample there and those beside it. */
export function pickColour(likeness: string, picture: string): void {
  useView.getState().show({ kind: "picture", name: picture, style: "colour" });
  useView.getState().set({ mode: "plan" });
  useTools.getState().take({
    kind: "point",
    title: "Click the colour on the picture",
    take: (place) => void picked(likeness, picture, place),
  });
}

async function picked(likeness: string, picture: string, place: { east: number; south: number }): Promise<void> {
  const store = useDocument.getState();
  const { state } = store;
  const saved = state?.document.readings?.find((item) => item.id === likeness);
  if (!state || !saved) return;
  const { home } = state;
  const { row, col } = nearestTo(home, place);
  const window = [row - 1, row + 2, col - 1, col + 2].map((n) => Math.max(n, 0)).join();
  try {
    await settled();
    const map = await fetchMap(state.id, named.picture(picture), { window });
    const sums = [0, 0, 0];
    let many = 0;
    for (let o = 0; o < map.values.length; o += 4) {
      if ((map.values[o + 3] ?? 0) < 128) continue;
      many += 1;
      sums.forEach((sum, c) => (sums[c] = sum + (map.values[o + c] ?? 0)));
    }
    if (many === 0) return store.tell("The picture does not reach there: click on it.");
    const colour = `#${sums
      .map((sum) =>
        Math.round(sum / many)
          .toString(16)
          .padStart(2, "0"),
      )
      .join("")}`;
    const setting = { ...saved, numbers: { ...saved.numbers, colour } };
    await store.edit([{ op: "set_reading", setting }], { what: "the colour of a likeness" });
    useView.getState().show({ kind: "reading", name: likeness, over: true });
  } catch (error) {
    store.tell(sentence(error));
  }
}
