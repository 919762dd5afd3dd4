import { named, readName } from "../../api/mapNames";
import { ask, client } from "../../api/client";
import { useReadings } from "../../document/queries";
import type { ChannelSource } from "../../api/types";
import { useDocument, useProject } from "../../document/document";
import { plainSource } from "./sources";

/** What a dragged map or channel is told as. */
export const DRAGGED = "text/x-map";

/** Makes a source of a choice; readings begin with black and white at their own ends on this ground. */
export function useSourceOf() {
  const { id: project } = useProject();
  const readings = useReadings();
  const tell = useDocument((store) => store.tell);
  return async (value: string): Promise<ChannelSource | null> => {
    const chosen = readName(value);
    if (chosen?.kind !== "reading") return plainSource(value);
    const { kind, reading: name } = chosen;
    const reading = readings.find((item) => item.name === name);
    if (reading?.wraps) return { kind, reading: name, black: 0, white: 1, mapping: "east", turned: false };
    const found = await ask(
      client.GET("/api/projects/{project_id}/stats", {
        params: { path: { project_id: project }, query: { name: named.reading(name) } },
      }),
    );
    const black = Number(found.low.toPrecision(6));
    const white = Number(found.high.toPrecision(6));
    if (white <= black) {
      tell(`${reading?.title ?? name} is ${black} everywhere on this ground: it has nothing to put into a channel.`);
      return null;
    }
    return { kind, reading: name, black, white, mapping: "own", turned: false };
  };
}
