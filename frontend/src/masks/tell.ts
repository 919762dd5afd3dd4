import type { Line, Mask } from "../api/types";
import { useDocument, useProject } from "../state/document";
import { previews } from "../state/preview";

/** How a line tells of its changes: shown while they move, saved when they are made. */
export interface Tell {
  preview: (next: Line | null) => void;
  commit: (next: Line, keyStep?: boolean, field?: string) => Promise<boolean>;
}

export function useTell(mask: Mask, line: Line): Tell {
  const { id } = useProject();
  const edit = useDocument((store) => store.edit);
  return {
    preview: (next) => {
      if (next) previews.ask(id, `mask:${mask.id}`, [{ op: "set_line", mask: mask.id, line: next }]);
      else previews.clear();
    },
    commit: async (next, keyStep = false, field = "") => {
      const merge = keyStep ? `${line.id}:${field}` : "";
      const saved = await edit([{ op: "set_line", mask: mask.id, line: next }], {
        merge,
        what: `a change to ${mask.name}`,
      });
      previews.clear();
      return saved;
    },
  };
}
