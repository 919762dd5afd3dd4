import type { Coat } from "../../api/types";

/** From where a coat is seen, as it is told. */
export const SEEN: { value: NonNullable<Coat["seen"]>; label: string }[] = [
  { value: "both", label: "Seen near and far" },
  { value: "near", label: "Seen near only" },
  { value: "near_middle", label: "Seen near and at middle distance" },
  { value: "middle", label: "Seen at middle distance only" },
  { value: "middle_far", label: "Seen at middle distance and far away" },
  { value: "far", label: "Seen far away only" },
];
