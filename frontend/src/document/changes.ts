import { immutableJSONPatch, type JSONPatchDocument } from "immutable-json-patch";
import { ask, client, type Schemas } from "../api/client";
import type { ProjectState } from "../api/types";

/**
 * The state after a change; what the change leaves alone are the same objects. Where it was not made of the state that is
 * known here, the newest is asked for.
 */
export async function after(known: ProjectState, change: Schemas["StateChange"]): Promise<ProjectState> {
  if (change.base === known.revision) return immutableJSONPatch(known, change.changes as JSONPatchDocument);
  return ask(client.GET("/api/projects/{project_id}", { params: { path: { project_id: known.id } } }));
}
