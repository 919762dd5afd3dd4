import { THREADS } from "./ThreadsPage";
import { Box, Dialog, DialogContent, DialogTitle, FormControlLabel, Switch } from "@mui/material";
import { useEffect, useEffectEvent, useState } from "react";
import { useNavigate } from "react-router";
import { focusWhenThere } from "../kit/focus";
import { toolKey } from "../viewport/drawing";
import { useDocument, useProject } from "../document/document";
import { pointer } from "../viewport/pointer";
import { useViewParts } from "../viewport/view";
import { WAYPOINTS } from "../waypoints/register";

/** Every key and what it does. */
const everyKey = (): [string, string][] => [
  [`1 – ${WAYPOINTS.length}`, `waypoints, ${WAYPOINTS[0]?.title ?? ""} to ${WAYPOINTS.at(-1)?.title ?? ""}`],
  ["0", "Threads"],
  ["P", "Plan or Relief"],
  ["H", "hold this view"],
  ["W", "before | after of a mask or of the preparation"],
  ["M", "mask alone"],
  ["Y", "why is the place under the pointer as it is"],
  ["Ctrl Z, Ctrl Shift Z", "undo, redo"],
  ["Arrow keys on a number", "step it; with Alt a tenth, with Shift ten"],
  ["Arrow keys on the view", "move or turn; + and − come nearer or go farther"],
  ["Escape", "take back what is being dragged; put the tool away"],
  ["Space, Enter, Backspace", "with a tool: set a point in the middle of the view, end the line, take a point back"],
  ["/", "find a reading"],
  ["?", "this list"],
];

function inField(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable ||
      /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) ||
      target.closest('[role="menu"], [role="dialog"], [role="listbox"]') !== null)
  );
}

export function Keys() {
  const { id, in_place: prepared } = useProject();
  const step = useDocument((store) => store.step);
  const go = useNavigate();
  const { mode, subject, singleKeys, set, show, hold } = useViewParts(
    "mode",
    "subject",
    "singleKeys",
    "set",
    "show",
    "hold",
  );
  const [list, setList] = useState(false);

  const findReading = async () => {
    await go(`/project/${id}/readings`);
    focusWhenThere("[data-find]");
  };

  const onKey = useEffectEvent((event: KeyboardEvent) => {
    if (inField(event.target)) return;
    if (!event.ctrlKey && !event.metaKey && !event.altKey && toolKey(event.key)) {
      event.preventDefault();
      return;
    }
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z") {
      event.preventDefault();
      void step(event.shiftKey ? "redo" : "undo");
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === "?") return setList(true);
    if (!singleKeys) return;
    const waypoint = WAYPOINTS[Number(event.key) - 1];
    if (waypoint) return void go(`/project/${id}/${waypoint.name}`);
    switch (event.key.toLowerCase()) {
      case "0":
        return void go(`/project/${id}/${THREADS}`);
      case "p":
        return set({ mode: mode === "relief" ? "plan" : "relief" });
      case "h":
        return hold();
      case "y":
        return pointer.at ? set({ why: pointer.at }) : undefined;
      case "w":
        if (subject.kind === "mask") show({ ...subject, style: subject.style === "wipe" ? "over" : "wipe" });
        if (subject.kind === "ground" && prepared)
          show({ kind: "ground", style: subject.style === "wipe" ? "heights" : "wipe", steps: subject.steps ?? 0 });
        return;
      case "/":
        event.preventDefault();
        return void findReading();
      case "m":
        if (subject.kind === "mask") show({ ...subject, style: subject.style === "alone" ? "over" : "alone" });
    }
  });

  useEffect(() => {
    const listen = (event: KeyboardEvent) => onKey(event);
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);

  return (
    <Dialog open={list} onClose={() => setList(false)} fullWidth maxWidth="xs">
      <DialogTitle>Keys</DialogTitle>
      <DialogContent>
        <Box
          component="dl"
          sx={{
            display: "grid",
            gridTemplateColumns: "auto 1fr",
            gap: "6px 18px",
            m: 0,
            "& dt": { fontWeight: 700 },
            "& dd": { m: 0 },
          }}
        >
          {everyKey().map(([key, what]) => (
            <Box key={key} sx={{ display: "contents" }}>
              <dt>{key}</dt>
              <dd>{what}</dd>
            </Box>
          ))}
        </Box>
        <FormControlLabel
          sx={{ mt: 2 }}
          control={<Switch checked={singleKeys} onChange={(_, on) => set({ singleKeys: on })} />}
          label="Single keys work (they do nothing in fields either way)"
        />
      </DialogContent>
    </Dialog>
  );
}
