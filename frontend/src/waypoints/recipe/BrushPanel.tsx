import { Box, Typography } from "@mui/material";
import { useEffect } from "react";
import { NumberToken } from "../../kit/NumberToken";
import { Segments } from "../../kit/Segments";
import { useProject } from "../../document/document";
import { useToolsParts } from "../../viewport/tools";

/** What the brush does: add, take away or soften (on layers: raise or lower); freely, in straight lines or an area; how wide and how strongly. */
export function BrushPanel({ layers = false }: { layers?: boolean }) {
  const { home } = useProject();
  const { brush, setBrush } = useToolsParts("brush", "setBrush");
  const spacing = Math.max(home.spacing_x, home.spacing_y);
  const most = Math.round(Math.max(home.width, home.length) / 4);

  useEffect(() => {
    if (brush.size === 0)
      setBrush({ size: Number((20 * spacing).toPrecision(2)), fade: Number((6 * spacing).toPrecision(2)) });
  }, [brush.size, setBrush, spacing]);

  const number = (label: string, field: "size" | "fade", least: number) => (
    <NumberToken
      label={label}
      value={brush[field]}
      unit="m"
      min={least}
      max={most}
      step={Number((spacing / 2).toPrecision(1))}
      decimals={1}
      onPreview={(v) => v !== null && setBrush({ [field]: v })}
      onCommit={(v) => {
        setBrush({ [field]: v });
        return Promise.resolve(true);
      }}
    />
  );
  return (
    <Box sx={{ mt: 1, display: "grid", justifyItems: "start", gap: 0.8, fontSize: 13 }}>
      <Segments
        label="What the brush does"
        options={
          layers
            ? [
                { value: "add", label: "Raise" },
                { value: "take_away", label: "Lower" },
              ]
            : [
                { value: "add", label: "Add" },
                { value: "take_away", label: "Take away" },
                { value: "soften", label: "Soften" },
              ]
        }
        value={layers && brush.mode === "soften" ? "add" : brush.mode}
        onChange={(mode) => setBrush({ mode })}
      />
      <Segments
        label="How it is led"
        options={[
          { value: "brush", label: "Freely" },
          { value: "line", label: "Straight lines" },
          { value: "area", label: "Area" },
        ]}
        value={brush.shape}
        onChange={(shape) => setBrush({ shape })}
      />
      <span>
        {brush.shape !== "area" && <>{number("Size of the brush", "size", 0.1)} wide, </>}fading over{" "}
        {number("Fade of the brush", "fade", 0)}, at{" "}
        <NumberToken
          label="Strength of the brush"
          value={Math.round(brush.strength * 100)}
          unit="%"
          min={1}
          max={100}
          step={1}
          decimals={0}
          onPreview={(v) => v !== null && setBrush({ strength: v / 100 })}
          onCommit={(v) => {
            setBrush({ strength: v / 100 });
            return Promise.resolve(true);
          }}
        />
      </span>
      <Typography variant="caption" color="textSecondary">
        {brush.shape === "brush"
          ? "Drag on Plan or Relief. Ctrl Z takes strokes back one by one."
          : "Click from point to point; Enter or a double click ends it, Backspace takes a point back."}{" "}
        Escape puts the brush away.
      </Typography>
    </Box>
  );
}
