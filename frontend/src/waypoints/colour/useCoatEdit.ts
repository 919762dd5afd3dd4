import { isColourMap } from "../../document/sourceTitle";
import { named } from "../../api/mapNames";
import type { Coat } from "../../api/types";
import { useDocument, useProject } from "../../document/document";
import { previews } from "../../viewport/preview";
import { useView } from "../../viewport/view";

/** The fields of a coat by name: what they are is told by the slots of its kind. */
export function fields(coat: Coat): Record<string, unknown> {
  return coat as unknown as Record<string, unknown>;
}

export function withFields(coat: Coat, changes: Record<string, unknown>): Coat {
  return { ...coat, ...changes } as Coat;
}

/** How a coat tells of its changes: shown while they move, saved when they are made. */
export interface CoatTell {
  preview: (next: Coat | null) => void;
  commit: (next: Coat, keyStep?: boolean, field?: string) => Promise<boolean>;
}

export function useCoatTell(coat: Coat): CoatTell {
  const { id } = useProject();
  const edit = useDocument((store) => store.edit);
  const subject = useView((view) => view.subject);
  const map = subject.kind === "colour" && isColourMap(subject.map) ? named[subject.map]() : named.colour();
  return {
    preview: (next) => {
      if (next) previews.ask(id, map, [{ op: "set_coat", coat: next }]);
      else previews.clear();
    },
    commit: async (next, keyStep = false, field = "") => {
      const saved = await edit([{ op: "set_coat", coat: next }], {
        merge: keyStep ? `${coat.id}:${field}` : "",
        what: "a change to a coat",
      });
      previews.clear();
      return saved;
    },
  };
}
