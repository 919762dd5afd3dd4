import type { Line } from "../../api/types";
import { useDocument, useProject } from "../../document/document";
import { previews } from "../../viewport/preview";
import { trialPicture } from "../../viewport/trials";
import type { Holder } from "../../document/holder";

/** How a line tells of its changes: shown while they move, saved when they are made. */
export interface Tell {
  preview: (next: Line | null) => void;
  commit: (next: Line, keyStep?: boolean, field?: string) => Promise<boolean>;
  /** A small picture of what its recipe would be with another line in its place. */
  trial?: (next: Line, slot: number, signal: AbortSignal) => Promise<ImageData>;
}

export function useTell(holder: Holder, line: Line): Tell {
  const state = useProject();
  const { id } = state;
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
    trial: (next, slot, signal) => {
      const subject = { kind: "mask" as const, id: holder.id, style: "alone" as const, lines: null };
      return trialPicture(state, { operations: [holder.set(next)], map: holder.map, subject }, slot, signal);
    },
  };
}
