import { colour } from "./colour/waypoint";
import { delivery } from "./delivery/waypoint";
import { fit } from "./fit/waypoint";
import { ground } from "./ground/waypoint";
import { layers } from "./layers/waypoint";
import { masks } from "./masks/waypoint";
import { packing } from "./packing/waypoint";
import { readings } from "./readings/waypoint";
import type { Waypoint } from "./waypoint";

/** The trail, from the first stop to the last. */
export const WAYPOINTS: Waypoint[] = [ground, readings, masks, layers, colour, packing, delivery, fit];

/** Fetch every card while nothing else is to be done, so that none is waited for. */
export function fetchCards(): () => void {
  const soon = setTimeout(() => WAYPOINTS.forEach((waypoint) => void waypoint.fetch().catch(() => undefined)), 1500);
  return () => clearTimeout(soon);
}
