import type { Line } from "../api/types";
import { useDocument, useProject } from "../state/document";
import { previews } from "../state/preview";
import type { Holder } from "./holder";

/** How a line tells of its changes: shown while they move, saved when they are made. */
export interface Tell {
  preview: (next: Line | null) => void;
  commit: (next: Line, keyStep?: boolean, field?: string) => Promise<boolean>;
}

export function useTell(holder: Holder, line: Line): Tell {
  const { id } = useProject();
  const edit = useDocument((store) => store.edit);
  return {
    preview: (next) => {
      if (next) previews.ask(id, holder.map, [holder.set(next)]);
      else previews.clear();
    },
    commit: async (next, keyStep = false, field = "") => {
      const merge = keyStep ? `${line.id}:${field}` : "";
      const saved = await edit([holder.set(next)], { merge, what: `a change to ${holder.name}` });
      previews.clear();
      return saved;
    },
  };
}
