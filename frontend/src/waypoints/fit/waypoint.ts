import { fetched, type Waypoint } from "../waypoint";
import { wrongIn } from "./subject";

export const fit: Waypoint = {
  name: "fit",
  title: "Fit check",
  ...fetched("FitCard", () => import("./FitCard")),
  stop: ({ deliveries }) => {
    const done = deliveries.find((item) => item.job.state === "done");
    if (!done) return { sign: "waiting", words: "waits for files" };
    if (done.check?.state === "failed") return { sign: "attention", words: "check failed" };
    if (!done.fit) return { sign: "part", words: "not checked yet" };
    const wrong = wrongIn(done.fit);
    return wrong
      ? { sign: "attention", words: `${wrong} ${wrong === 1 ? "does" : "do"} not fit` }
      : { sign: "tick", words: "all fit" };
  },
  picture: "fit.png",
};
