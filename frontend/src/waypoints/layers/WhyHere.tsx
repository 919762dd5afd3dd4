import { Box, Button, Typography } from "@mui/material";
import { sentence } from "../../api/client";
import { useWhy } from "../../document/queries";
import { Heading, Inset } from "../../kit/Card";
import { useProject } from "../../document/document";
import { ASK_A_PLACE, useToolsParts } from "../../viewport/tools";
import { useViewParts } from "../../viewport/view";
import { MONO } from "../../kit/theme";
import { trim } from "../../kit/numbers";
import { nearestTo, northOf, placeOf } from "../../viewport/places";

/** Why a place is what it is: layers from the top, or coats from the bottom up. */
export function WhyHere({ about }: { about: "layers" | "coats" }) {
  const { home } = useProject();
  const { why, set } = useViewParts("why", "set");
  const { tool, take } = useToolsParts("tool", "take");
  const answer = useWhy(why);
  const before = ["", ...(answer.data?.coats.map((coat) => coat.colour) ?? [])];
  const asking = tool?.kind === "point" && tool.title === ASK_A_PLACE;
  const ask = () =>
    take(
      asking
        ? null
        : {
            kind: "point",
            title: ASK_A_PLACE,
            take: (place) =>
              set({
                why: nearestTo(home, place),
              }),
          },
    );
  return (
    <>
      <Heading
        aside={
          <Button
            size="small"
            color={asking ? "secondary" : "inherit"}
            aria-pressed={asking}
            onClick={ask}
            sx={{ p: 0 }}
          >
            {asking ? "Click a place on the view" : "Ask a place"}
          </Button>
        }
      >
        Why here?
      </Heading>
      {why && (
        <Inset data-testid="why">
          <Typography variant="caption" color="textSecondary">
            East {trim(placeOf(home, why.row, why.col).east, 1)} m, north {trim(northOf(home, why.row), 1)} m
          </Typography>
          {answer.error && <Typography color="error">{sentence(answer.error)}</Typography>}
          {about === "layers" &&
            answer.data?.layers.map((layer) => (
              <Box key={layer.id} sx={{ mt: 0.6, opacity: layer.share > 0 || layer.strength > 0 ? 1 : 0.6 }}>
                <Box sx={{ display: "flex", justifyContent: "space-between", fontSize: 13 }}>
                  <b>{layer.name}</b>
                  <Box component="span" sx={{ fontFamily: MONO }}>
                    {(layer.share * 100).toFixed(0)} %
                  </Box>
                </Box>
                <Typography variant="caption" color="textSecondary" sx={{ display: "block", lineHeight: 1.35 }}>
                  {layer.says}
                </Typography>
              </Box>
            ))}
          {about === "coats" && answer.data?.coats.length === 0 && (
            <Typography variant="body2">No coat lies here: the ground shows the colour of the base.</Typography>
          )}
          {about === "coats" &&
            answer.data?.coats.map((coat, i) => (
              <Box key={coat.id} sx={{ display: "flex", alignItems: "center", gap: 1, fontSize: 13, mt: 0.5 }}>
                <Box sx={{ width: 22, height: 22, borderRadius: 0.7, bgcolor: coat.colour, flexShrink: 0 }} />
                <Box sx={{ flex: 1 }}>
                  {coat.title}
                  {coat.colour === before[i] && (
                    <Typography component="span" variant="caption" color="textSecondary">
                      {" "}
                      changes nothing here
                    </Typography>
                  )}
                </Box>
                <Box component="span" sx={{ fontFamily: MONO, fontSize: 12, whiteSpace: "nowrap" }}>
                  {(coat.lies * 100).toFixed(0)} % · {coat.colour}
                </Box>
              </Box>
            ))}
        </Inset>
      )}
    </>
  );
}
