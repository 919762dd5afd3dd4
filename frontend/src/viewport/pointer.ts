/** The sample of the home grid under the pointer, for keys that act there. Not state: nothing is drawn anew by it. */
export const pointer: { at: { row: number; col: number } | null } = { at: null };
