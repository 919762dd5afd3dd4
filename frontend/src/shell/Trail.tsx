import { Box, Typography } from "@mui/material";
import { Link as RouterLink } from "react-router";
import { isGoing, outdatedFiles, useDeliveries, useReadings } from "../api/queries";
import { wrongIn } from "../fit/subject";
import { useProject } from "../state/document";
import { WAYPOINTS, type Waypoint } from "../state/view";
import { trim } from "../viewport/subjects";
import { roles } from "../theme";

type Sign = "tick" | "part" | "attention" | "waiting";

interface Stop {
  sign: Sign;
  words: string;
}

const TITLES: Record<Waypoint, string> = {
  ground: "Ground",
  readings: "Readings",
  masks: "Masks",
  layers: "Layers",
  colour: "Colour",
  packing: "Packing",
  delivery: "Delivery",
  fit: "Fit check",
};

function useStops(): Record<Waypoint, Stop> {
  const state = useProject();
  const { document, cautions, home, uses, gaps } = state;
  const deliveries = useDeliveries().data ?? [];
  const readings = useReadings();
  const { ground, masks, layers, sheets } = document;
  const used = new Set(uses.filter((use) => use.user !== use.used).map((use) => use.used));
  const unused = masks.filter((mask) => !used.has(`mask:${mask.id}`)).length;
  const packing = cautions.filter((item) => item.waypoint === "packing");
  const refused = cautions.find((item) => item.waypoint === "delivery");
  const latest = deliveries[0];
  const done = deliveries.find((item) => item.job.state === "done");
  // What was typed elsewhere is no fault of the files.
  const harmed = done?.fit?.findings.some((item) => item.severity === "error" && !item.typed) ?? false;
  const wrong = done?.fit ? wrongIn(done.fit) : 0;
  return {
    ground: gaps
      ? { sign: "attention", words: "gaps to fill" }
      : {
          sign: "tick",
          words: `${/f$/.test(ground.depth) ? "float" : `${Number.parseInt(ground.depth)}-bit`}, ${trim(home.spacing_x)} m apart`,
        },
    readings: { sign: "tick", words: `${readings.length} ready` },
    masks:
      masks.length === 0
        ? { sign: "waiting", words: "none yet" }
        : { sign: "tick", words: `${masks.length}${unused ? ` · ${unused} unused` : ""}` },
    layers:
      layers.length === 0
        ? { sign: "waiting", words: "only the base" }
        : cautions.some((item) => item.waypoint === "layers")
          ? { sign: "attention", words: "too many layers" }
          : { sign: "tick", words: `${layers.length} + base` },
    colour:
      (document.coats ?? []).length === 0
        ? { sign: "waiting", words: "no coats yet" }
        : { sign: "tick", words: `${document.coats?.length} ${document.coats?.length === 1 ? "coat" : "coats"}` },
    packing:
      sheets.length === 0
        ? { sign: "waiting", words: "no sheets yet" }
        : packing.length
          ? { sign: "attention", words: `${packing.length} to look at` }
          : { sign: "tick", words: `${sheets.length} ${sheets.length === 1 ? "sheet" : "sheets"}` },
    delivery: refused
      ? { sign: "attention", words: refused.short }
      : !latest
        ? { sign: "waiting", words: "not run yet" }
        : isGoing(latest)
          ? { sign: "part", words: `${(latest.job.progress * 100).toFixed(0)} %` }
          : latest.job.state === "failed"
            ? { sign: "attention", words: "failed" }
            : !done
              ? { sign: "waiting", words: "not run yet" }
              : outdatedFiles(done, state).length
                ? { sign: "attention", words: "needs running again" }
                : harmed
                  ? { sign: "attention", words: "a file does not fit" }
                  : { sign: "tick", words: `${done.maps} ${done.maps === 1 ? "file" : "files"}, whole` },
    fit: !done
      ? { sign: "waiting", words: "waits for files" }
      : done.check?.state === "failed"
        ? { sign: "attention", words: "check failed" }
        : !done.fit
          ? { sign: "part", words: "not checked yet" }
          : wrong
            ? { sign: "attention", words: `${wrong} ${wrong === 1 ? "does" : "do"} not fit` }
            : { sign: "tick", words: "all fit" },
  };
}

const STEP = 87;
const LEFT = 30;
const RIGHT = 54;
const TOP = 40;

export function Trail({ here }: { here: Waypoint | null }) {
  const { id } = useProject();
  const stops = useStops();
  const points = WAYPOINTS.map((_, i) => [i % 2 ? RIGHT : LEFT, TOP + i * STEP] as const);
  return (
    <Box
      component="nav"
      aria-label="Trail of waypoints"
      sx={{ position: "relative", borderRight: 1, borderColor: "divider", overflow: "hidden auto" }}
    >
      <svg width="160" height={TOP * 2 + STEP * 7} aria-hidden style={{ position: "absolute" }}>
        <polyline points={points.map((p) => p.join(",")).join(" ")} fill="none" stroke={roles.rule} strokeWidth="3" />
      </svg>
      <Box component="ol" sx={{ listStyle: "none", p: 0, m: 0, height: TOP * 2 + STEP * 7 - 24 }}>
        {WAYPOINTS.map((waypoint, i) => {
          const stop = stops[waypoint];
          const [x = 0, y = 0] = points[i] ?? [];
          return (
            <Box component="li" key={waypoint} sx={{ position: "absolute", left: x - 15, top: y - 16, right: 12 }}>
              <Box
                component={RouterLink}
                to={`/project/${id}/${waypoint}`}
                aria-current={waypoint === here ? "step" : undefined}
                sx={{
                  display: "flex",
                  gap: 0.9,
                  color: "text.primary",
                  textDecoration: "none",
                  borderRadius: 1,
                  minHeight: 34,
                  "&:focus-visible": {
                    outline: `2px solid ${roles.gentian}`,
                    outlineOffset: 2,
                  },
                }}
              >
                <Marker sign={stop.sign} chosen={waypoint === here} />
                <Box sx={{ minWidth: 0 }}>
                  <Typography
                    sx={{
                      fontSize: 13.5,
                      fontWeight: 650,
                      lineHeight: 1.25,
                      color: waypoint === here ? "secondary.main" : undefined,
                    }}
                  >
                    {TITLES[waypoint]}
                  </Typography>
                  <Typography
                    sx={{
                      fontSize: 11.5,
                      lineHeight: 1.2,
                      color: stop.sign === "attention" ? "warning.main" : "text.secondary",
                    }}
                  >
                    {stop.words}
                  </Typography>
                </Box>
              </Box>
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}

const SIGNS: Record<Sign, string> = {
  tick: "M11 16.5l3.4 3.4 7-7.6",
  part: "M11 16h10",
  attention: "M16 10v7.5M16 21v.6",
  waiting: "",
};
const NAMES: Record<Sign, string> = {
  tick: "done",
  part: "in part",
  attention: "needs attention",
  waiting: "waiting",
};

function Marker({ sign, chosen }: { sign: Sign; chosen: boolean }) {
  return (
    <Box
      component="svg"
      viewBox="0 0 32 32"
      role="img"
      aria-label={NAMES[sign]}
      sx={{
        width: 30,
        height: 30,
        flexShrink: 0,
        "& rect": {
          fill: chosen ? roles.gentian : roles.card,
          stroke: chosen ? roles.gentian : sign === "attention" ? roles.amber : roles.ink,
        },
        "& path": {
          stroke: chosen ? roles.card : sign === "attention" ? roles.amber : roles.ink,
        },
      }}
    >
      <rect x="7" y="7" width="18" height="18" rx="4.5" transform="rotate(45 16 16)" strokeWidth="1.6" />
      <path d={SIGNS[sign]} fill="none" strokeWidth="2.3" strokeLinecap="round" strokeLinejoin="round" />
    </Box>
  );
}
