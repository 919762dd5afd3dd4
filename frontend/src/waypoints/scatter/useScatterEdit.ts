import type { Scatter } from "../../api/types";
import { useDocument } from "../../document/document";

/** Changes what is scattered; keys of one token count together. */
export function useScatterEdit(scatter: Scatter) {
  const edit = useDocument((store) => store.edit);
  return (part: Partial<Scatter>, field = "") =>
    edit([{ op: "set_scatter", scatter: { ...scatter, ...part } }], {
      merge: field ? `scatter ${scatter.id}:${field}` : "",
      what: `a change to ${scatter.name}`,
    });
}
