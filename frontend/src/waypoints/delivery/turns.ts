import type { ItemChoice } from "../../api/types";
import type { Choice } from "../../kit/ChoiceToken";

/** How a file may be turned, as it is called. */
export const TURNS: (Choice & { value: ItemChoice["turn"] })[] = [
  { value: "none", label: "as the target has it" },
  { value: "north_south", label: "north–south" },
  { value: "east_west", label: "east–west" },
  { value: "both", label: "both ways" },
];
