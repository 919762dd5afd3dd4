import { named } from "../../api/mapNames";
import type { ProjectState } from "../../api/types";
import type { Place } from "../../viewport/tools";
import { mapStore } from "../../viewport/pictures";
import { nearestTo } from "../../viewport/places";

/** The bytes of the colour map at a place, as a colour code; null before it is there. */
export function colourNear(state: ProjectState, place: Place): string | null {
  const wanted = {
    state,
    subject: { kind: "ground", style: "heights" } as const,
    readings: [],
    options: { tint: 0, water: false },
  };
  const map = mapStore.get(wanted, named.colour());
  if (!map || map.channels < 3) return null;
  const { row, col } = nearestTo(map.grid, place);
  const at = (row * map.cols + col) * map.channels;
  return `#${[...map.values.slice(at, at + 3)].map((part) => part.toString(16).padStart(2, "0")).join("")}`;
}
