import { Box } from "@mui/material";
import { usePainting } from "../../document/queries";
import type { Schemas } from "../../api/client";
import { Heading, Inset } from "../../kit/Card";
import { NumberSlot, type SlotValue } from "../../kit/NumberSlot";
import { useDocument, useProject } from "../../document/document";
import { previews } from "../../viewport/preview";
import { useView } from "../../viewport/view";
import { paintedName } from "../../viewport/subjects/colour";

/** The numbers of surface maps that matter for each of them. */
const OF: Record<string, string[]> = {
  normal: ["green", "strength", "textures"],
  occlusion: ["occlusion"],
  curvature: ["curvature"],
  detail: ["detail"],
};

/** How the surface map that is looked at is made. */
export function SurfaceInset() {
  const { id, document } = useProject();
  const edit = useDocument((store) => store.edit);
  const painting = usePainting();
  const subject = useView((view) => view.subject);
  const map = subject.kind === "colour" ? subject.map : "colour";
  const slots = (painting?.surface ?? []).filter((slot) => OF[map]?.includes(slot.name));
  const surface = document.surface;
  if (slots.length === 0 || !surface) return null;
  const set = (name: string, value: SlotValue) => ({ ...surface, [name]: value }) as Schemas["Surface"];
  return (
    <>
      <Heading>How it is made</Heading>
      <Inset>
        {slots.map((slot) => (
          <Box key={slot.name} sx={{ fontSize: 13.5, lineHeight: 2 }}>
            {slot.title}:{" "}
            <NumberSlot
              slot={slot}
              value={(surface as Record<string, SlotValue>)[slot.name] ?? null}
              onPreview={(next) => {
                if (next === undefined) previews.clear();
                else previews.ask(id, paintedName(map), [{ op: "set_surface", surface: set(slot.name, next) }]);
              }}
              onCommit={async (next, key) => {
                const saved = await edit([{ op: "set_surface", surface: set(slot.name, next) }], {
                  merge: key ? `surface ${slot.name}` : "",
                  what: "a surface map",
                });
                previews.clear();
                return saved;
              }}
            />
          </Box>
        ))}
      </Inset>
    </>
  );
}
