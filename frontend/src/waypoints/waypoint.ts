import { lazy, type ComponentType } from "react";
import type { Subject } from "../viewport/subjects/subject";
import type { Delivery, ProjectState, Reading } from "../api/types";

export type Sign = "tick" | "part" | "attention" | "waiting";

/** How a waypoint stands, beside its title. */
export interface Stop {
  sign: Sign;
  words: string;
}

/** What stops are told from; deliveries: newest first. */
export interface Seen {
  state: ProjectState;
  readings: Reading[];
  deliveries: Delivery[];
}

/** One stop of the trail: all that the pages around it know of it. Its key is its place in the list. */
export interface Waypoint {
  /** As in the address. */
  name: string;
  title: string;
  Card: ComponentType;
  /** Fetch the card, so that it is there when it is opened. */
  fetch: () => Promise<unknown>;
  stop: (seen: Seen) => Stop;
  /** The subject that the view shows when it is opened; left out where that follows from what is chosen in its card. */
  opens?: () => Subject;
  /** The picture of it in the documentation. */
  picture: string;
}

/** A card that is fetched when it is opened, or before. */
export function fetched<Name extends string>(
  name: Name,
  fetch: () => Promise<Record<Name, ComponentType>>,
): Pick<Waypoint, "Card" | "fetch"> {
  return { Card: lazy<ComponentType>(async () => ({ default: (await fetch())[name] })), fetch };
}

/** How many, in words: "3 sheets". */
export const many = (count: number, one: string, more = `${one}s`) => `${count} ${count === 1 ? one : more}`;
