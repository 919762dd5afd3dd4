import { Box, Button, Typography } from "@mui/material";
import { useToolsParts } from "../../viewport/tools";
import { useDocument, useProject } from "../../document/document";
import { BrushPanel } from "../recipe/BrushPanel";
import { SourceTokens } from "../recipe/SourceTokens";
import { Heading, Inset } from "../../kit/Card";
import { MoreMenu } from "../../kit/MoreMenu";

/** The layer brush while it is in the hand, and the strokes made so far, each of which can be taken away again. */
export function BrushedInset() {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const { tool, only, limit, take } = useToolsParts("tool", "only", "limit", "take");
  const strokes = document.strokes ?? [];
  const nameOf = (id: string) =>
    id === "base" ? (document.base.name ?? "Base") : (document.layers.find((item) => item.id === id)?.name ?? "?");
  if (tool?.kind !== "paint" && strokes.length === 0) return null;
  return (
    <>
      <Heading aside="after sharing">Layer brush</Heading>
      {tool?.kind === "paint" && (
        <Inset chosen>
          <Box sx={{ display: "flex", justifyContent: "space-between", alignItems: "center" }}>
            <b>On {nameOf(tool.layer)}</b>
            <Button size="small" color="inherit" onClick={() => take(null)}>
              Put it away
            </Button>
          </Box>
          <BrushPanel layers />
          <Box sx={{ fontSize: 13, lineHeight: 2 }}>
            {only ? "Only where " : "Acting "}
            <SourceTokens
              source={only}
              mask={null}
              label="Only where"
              none="everywhere"
              onPreview={() => undefined}
              onCommit={(next) => {
                limit(next);
                return Promise.resolve(true);
              }}
            />
          </Box>
        </Inset>
      )}
      {strokes.length > 0 && (
        <Box component="ul" aria-label="Strokes on layers" sx={{ p: 0, m: 0, listStyle: "none" }}>
          {strokes.map((item) => (
            <Box
              component="li"
              key={item.id}
              sx={{ display: "flex", alignItems: "center", fontSize: 13, opacity: item.muted ? 0.5 : 1 }}
            >
              <Box sx={{ flex: 1 }}>
                {item.count === 1 ? "1 stroke" : `${item.count ?? 0} strokes`} on {nameOf(item.layer)}
                {item.only && (
                  <Typography component="span" variant="caption" color="textSecondary">
                    , limited
                  </Typography>
                )}
              </Box>
              <MoreMenu
                label={`More for the strokes on ${nameOf(item.layer)}`}
                actions={[
                  {
                    label: item.muted ? "Use them again" : "Leave them out",
                    act: () => void edit([{ op: "set_strokes", strokes: { ...item, muted: !item.muted } }]),
                  },
                  {
                    label: "Take them away",
                    act: () => void edit([{ op: "delete_strokes", strokes: item.id }]),
                    danger: true,
                  },
                ]}
              />
            </Box>
          ))}
        </Box>
      )}
    </>
  );
}
