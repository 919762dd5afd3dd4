/** What families of readings are called, in the order in which they are shown. */
export const FAMILIES: [string, string][] = [
  ["relief", "Relief"],
  ["light", "Light"],
  ["water", "Water"],
  ["erosion", "Erosion"],
  ["breakup", "Breakup"],
  ["picture", "Pictures"],
];

export const FAMILY_TITLES: Record<string, string> = Object.fromEntries(FAMILIES);
