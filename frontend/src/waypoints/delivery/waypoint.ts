import { isGoing, outdatedFiles } from "../../document/queries";
import { fetched, many, type Waypoint } from "../waypoint";

export const delivery: Waypoint = {
  name: "delivery",
  title: "Delivery",
  ...fetched("DeliveryCard", () => import("./DeliveryCard")),
  stop: ({ state, deliveries }) => {
    const refused = state.cautions.find((item) => item.waypoint === "delivery");
    const latest = deliveries[0];
    const done = deliveries.find((item) => item.job.state === "done");
    if (refused) return { sign: "attention", words: refused.short };
    if (latest && isGoing(latest)) return { sign: "part", words: `${(latest.job.progress * 100).toFixed(0)} %` };
    if (latest?.job.state === "failed") return { sign: "attention", words: "failed" };
    if (!done) return { sign: "waiting", words: "not run yet" };
    if (outdatedFiles(done, state).length) return { sign: "attention", words: "needs running again" };
    // What was typed elsewhere is no fault of the files.
    const harmed = done.fit?.findings.some((item) => item.severity === "error" && !item.typed) ?? false;
    if (harmed) return { sign: "attention", words: "a file does not fit" };
    return { sign: "tick", words: `${many(done.maps, "file")}, whole` };
  },
  picture: "delivery.png",
};
