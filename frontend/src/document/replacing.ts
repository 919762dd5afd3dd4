import { create } from "zustand";
import type { Inspection } from "../api/types";

/** How another heightmap comes: to be chosen, as files that were dropped, or as a watched file that was looked at. */
export type Coming = { kind: "choose" } | { kind: "files"; files: File[] } | { kind: "watched"; found: Inspection };

interface ReplacingStore {
  coming: Coming | null;
  begin: (coming: Coming) => void;
  end: () => void;
}

/** The heightmap that is to replace the project's, from wherever in the application it comes. */
export const useReplacing = create<ReplacingStore>((set) => ({
  coming: null,
  begin: (coming) => set({ coming }),
  end: () => set({ coming: null }),
}));
