import { Box, Typography } from "@mui/material";
import { Link as RouterLink } from "react-router";
import { useDeliveries, useReadings } from "../document/queries";
import { useProject } from "../document/document";
import { WAYPOINTS } from "../waypoints/register";
import type { Sign, Waypoint } from "../waypoints/waypoint";
import { roles } from "../kit/theme";

const STEP = 87;
const LEFT = 30;
const RIGHT = 54;
const TOP = 40;

export function Trail({ here }: { here: Waypoint | null }) {
  const state = useProject();
  const deliveries = useDeliveries().data ?? [];
  const readings = useReadings();
  const high = TOP * 2 + STEP * (WAYPOINTS.length - 1);
  const points = WAYPOINTS.map((_, i) => [i % 2 ? RIGHT : LEFT, TOP + i * STEP] as const);
  return (
    <Box
      component="nav"
      aria-label="Trail of waypoints"
      sx={{ position: "relative", borderRight: 1, borderColor: "divider", overflow: "hidden auto" }}
    >
      <svg width="160" height={high} aria-hidden style={{ position: "absolute" }}>
        <polyline points={points.map((p) => p.join(",")).join(" ")} fill="none" stroke={roles.rule} strokeWidth="3" />
      </svg>
      <Box component="ol" sx={{ listStyle: "none", p: 0, m: 0, height: high - 24 }}>
        {WAYPOINTS.map((waypoint, i) => {
          const stop = waypoint.stop({ state, deliveries, readings });
          const [x = 0, y = 0] = points[i] ?? [];
          return (
            <Box component="li" key={waypoint.name} sx={{ position: "absolute", left: x - 15, top: y - 16, right: 12 }}>
              <Box
                component={RouterLink}
                to={`/project/${state.id}/${waypoint.name}`}
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
                    {waypoint.title}
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
