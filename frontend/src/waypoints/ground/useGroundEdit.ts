import { useDocument } from "../../document/document";

/** Changes measures of the ground; keys of one token count together. */
export function useGroundEdit() {
  const edit = useDocument((store) => store.edit);
  return (part: Record<string, unknown>, key: boolean, field: string) =>
    edit([{ op: "set_ground", no_water: false, ...part }], {
      merge: key ? `ground:${field}` : "",
      what: "a measure of the ground",
    });
}
