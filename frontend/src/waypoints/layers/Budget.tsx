import { Box, Button, Typography } from "@mui/material";
import CheckIcon from "@mui/icons-material/Check";
import type { LayerReport } from "../../api/types";
import { Heading } from "../../kit/Card";
import { percent } from "../../kit/percent";
import { useProject } from "../../document/document";
import { useView } from "../../viewport/view";
import { MONO, roles } from "../../kit/theme";

/** What the layers come to: sums, overlap, dominance, and what the target takes. */
export function Budget({ report, onMerge }: { report: LayerReport; onMerge: () => void }) {
  const show = useView((view) => view.show);
  const exact = report.sum_error <= 1e-6;
  const many = report.total > report.allowed;
  const { blocks } = report;
  const { id, document, final } = useProject();
  const { layers } = document;
  const masks = [...new Set(layers.flatMap((layer) => (layer.mask && !layer.muted ? [layer.mask] : [])))];
  return (
    <>
      <Heading aside="of the ground, before and after sharing">What came out</Heading>
      <Box component="ul" aria-label="Shares" sx={{ p: 0, m: 0, listStyle: "none" }}>
        {[...report.layers].reverse().map((layer) => (
          <Box
            component="li"
            key={layer.id}
            sx={{ display: "grid", gridTemplateColumns: "92px 1fr 92px", gap: 1, alignItems: "center", fontSize: 12 }}
          >
            <Box component="span" sx={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
              {layer.name}
            </Box>
            <Bar before={layer.before} after={layer.after} colour={layer.colour} />
            <Box component="span" sx={{ fontFamily: MONO, whiteSpace: "nowrap", textAlign: "right" }}>
              {layer.before === null ? "" : `${(layer.before * 100).toFixed(0)} → `}
              {percent(layer.after, 1)}
            </Box>
          </Box>
        ))}
      </Box>
      <Box
        data-testid="sum-check"
        sx={{ display: "flex", alignItems: "center", gap: 0.7, fontWeight: 600, fontSize: 13, mt: 1 }}
      >
        {exact ? (
          <>
            <CheckIcon fontSize="small" /> Weights add up to 1 everywhere
          </>
        ) : (
          <Box component="span" sx={{ color: "error.main" }}>
            Weights are off 1 by {report.sum_error.toExponential(1)}
          </Box>
        )}
      </Box>
      <Typography variant="body2" sx={{ mt: 0.5 }}>
        More than one layer is strong on {percent(report.overlap, 1)} of the ground before sharing.
      </Typography>
      <Box
        sx={{ display: "flex", flexWrap: "wrap", columnGap: 2, mt: 0.5, "& > .MuiButton-root": { p: 0, minWidth: 0 } }}
      >
        <Button size="small" onClick={() => show({ kind: "strongest" })}>
          Show who is strongest
        </Button>
        <Button
          size="small"
          component="a"
          href={`/api/projects/${id}/painted/strongest?rows=${final.rows}&cols=${final.cols}`}
          download
        >
          Write that as numbers
        </Button>
        {masks.length > 1 && (
          <Button size="small" onClick={() => show({ kind: "together", masks })}>
            Show overlap and gaps
          </Button>
        )}
      </Box>
      <Heading aside="of the chosen target">Budget</Heading>
      <Typography variant="body2" data-testid="budget" sx={{ color: many ? "error.main" : "text.primary" }}>
        {report.total} layers with the base, of {report.allowed}.
        {blocks && (
          <>
            {" "}
            At most {Math.max(...blocks.counts)} in one of {blocks.cols} × {blocks.rows} blocks, of {blocks.most}
            {blocks.over > 0 ? `: ${blocks.over} ${blocks.over === 1 ? "block has" : "blocks have"} too many.` : "."}
          </>
        )}
        {!blocks && " Its size is not legal for the target, so blocks cannot be counted."}
      </Typography>
      {blocks && <BlockPicture blocks={blocks} />}
      {(many || (blocks?.over ?? 0) > 0) && (
        <Button size="small" variant="outlined" color="inherit" onClick={onMerge} sx={{ mt: 0.5 }}>
          Merge layers…
        </Button>
      )}
    </>
  );
}

function Bar({ before, after, colour }: { before: number | null; after: number; colour: string }) {
  return (
    <Box sx={{ position: "relative", height: 12, bgcolor: "divider", borderRadius: 0.5, overflow: "hidden" }}>
      {before !== null && (
        <Box
          sx={{
            position: "absolute",
            inset: 0,
            width: `${before * 100}%`,
            borderRight: `2px solid ${roles.ink}`,
            bgcolor: colour,
            opacity: 0.35,
          }}
        />
      )}
      <Box sx={{ position: "absolute", inset: 0, width: `${after * 100}%`, bgcolor: colour }} />
    </Box>
  );
}

function BlockPicture({ blocks }: { blocks: NonNullable<LayerReport["blocks"]> }) {
  if (blocks.rows * blocks.cols > 1024) return null;
  return (
    <Box
      aria-hidden
      sx={{
        display: "grid",
        gridTemplateColumns: `repeat(${blocks.cols}, 1fr)`,
        gap: "1px",
        width: 120,
        mt: 0.7,
      }}
    >
      {blocks.counts.map((count, i) => (
        <Box
          key={i}
          title={`${count} layers`}
          sx={{
            aspectRatio: "1",
            bgcolor: count > blocks.most ? roles.rowan : roles.moss,
            opacity: 0.25 + 0.75 * Math.min(count / blocks.most, 1),
          }}
        />
      ))}
    </Box>
  );
}
