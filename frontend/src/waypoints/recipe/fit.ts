import { ask, client, type Schemas } from "../../api/client";
import type { Band, Reading, Source } from "../../api/types";
import { settled } from "../../document/document";

export type Fitted = Schemas["FittedOut"];

/** Numbers of a reading that fit the ground; `before`: the band whose share is kept, `holds`: the
 * share of the ground otherwise, `steps`: so many made the ground at hand (null: all). */
export async function fit(
  project: string,
  reading: string,
  steps: number | null = null,
  before: Band | null = null,
  holds = 0.3,
): Promise<Fitted> {
  await settled();
  return ask(
    client.POST("/api/projects/{project_id}/fit-band", {
      params: { path: { project_id: project } },
      body: { reading, steps, before, holds },
    }),
  );
}

/** A band of a reading that fits the ground. */
export function fittedBand(reading: string, found: Fitted, smooth = false): Band {
  const { low, high, fade_low, fade_high } = found;
  return { kind: "band", reading, low, high, fade_low, fade_high, smooth };
}

/** A reading as a mapping that fits the ground. */
export function fittedMapping(reading: Reading, found: Fitted): Source {
  return { kind: "reading", reading: reading.name, black: found.black, white: found.white };
}
