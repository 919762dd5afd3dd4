import { Box, Button, ButtonBase, IconButton, Popover, Slider, Tooltip } from "@mui/material";
import TuneIcon from "@mui/icons-material/TuneOutlined";
import WaterIcon from "@mui/icons-material/WaterOutlined";
import { memo, useEffect, useEffectEvent, useLayoutEffect, useRef, useState } from "react";
import { ChoiceToken } from "../kit/ChoiceToken";
import { Segments } from "../kit/Segments";
import { useProject } from "../document/document";
import { type Mode, useViewParts } from "./view";
import { onMap, roles, TINTS } from "../kit/theme";
import { LaidOn } from "./LaidOn";
import type { Palette } from "./ramps";
import { kindOf } from "./subjects/register";

const MODES: { value: Mode; label: string }[] = [
  { value: "plan", label: "Plan" },
  { value: "relief", label: "Relief" },
  { value: "both", label: "Both" },
];

/** What can be set of how things are shown: beside each other, or where there is no room in a menu. */
export const ViewBar = memo(function ViewBar({ shown }: { shown: Mode }) {
  const { subject, set, hold } = useViewParts("subject", "set", "hold");
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { row, folded } = useFolded("id" in subject ? `${subject.kind} ${subject.id}` : subject.kind, anchor !== null);
  return (
    <Box ref={row} sx={{ display: "flex", alignItems: "center", gap: 1, px: 1.5, minWidth: 0, whiteSpace: "nowrap" }}>
      <Segments label="View" options={MODES} value={shown} onChange={(value) => set({ mode: value })} />
      {folded ? (
        <>
          <Box sx={{ flex: 1 }} />
          <Button
            variant="outlined"
            color="inherit"
            startIcon={<TuneIcon />}
            aria-haspopup="dialog"
            onClick={(event) => setAnchor(event.currentTarget)}
          >
            Shown as…
          </Button>
          <Popover
            open={anchor !== null}
            anchorEl={anchor}
            onClose={() => setAnchor(null)}
            anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
            transformOrigin={{ vertical: "top", horizontal: "right" }}
            slotProps={{
              paper: {
                role: "dialog",
                "aria-label": "Shown as",
                sx: { p: 1.5, border: 1, borderColor: "divider", maxWidth: "min(92vw, 560px)" },
              },
            }}
          >
            <Box sx={{ display: "flex", flexDirection: "column", alignItems: "flex-start", gap: 1.2 }}>
              <Looks />
              <Laid />
            </Box>
          </Popover>
        </>
      ) : (
        <>
          <Looks />
          <Box sx={{ flex: 1 }} />
          <Laid />
        </>
      )}
      <Tooltip title="Keep this view on the strip below">
        <Button variant="outlined" color="inherit" onClick={hold} sx={{ whiteSpace: "nowrap" }}>
          Hold
          <Box component="kbd" sx={{ ml: 0.75, fontFamily: "inherit", color: "text.secondary" }}>
            H
          </Box>
        </Button>
      </Tooltip>
    </Box>
  );
});

/** Whether a row is too narrow for what it holds. How much room that takes is measured while it is all there, and
 * remembered until something else is shown; a menu that is open stays whatever is chosen in it. */
function useFolded(shown: string, open: boolean) {
  const row = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(Infinity);
  const [needed, setNeeded] = useState<{ shown: string; pixels: number } | null>(null);
  const known = needed && (open || needed.shown === shown) ? needed.pixels : 0;
  const folded = width < known;
  useLayoutEffect(() => {
    const element = row.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setWidth(element.clientWidth));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  const measure = useEffectEvent(() => {
    const element = row.current;
    if (!element || folded || element.scrollWidth <= element.clientWidth + 1) return;
    const pixels = element.scrollWidth;
    setWidth(element.clientWidth);
    // The same once more changes nothing, or it would be drawn for ever.
    setNeeded((known) => (known?.shown === shown && known.pixels === pixels ? known : { shown, pixels }));
  });
  // With every drawing, and when something in it has drawn itself anew. It settles at once: what is folded fits.
  useLayoutEffect(() => measure());
  useLayoutEffect(() => {
    if (!row.current) return;
    const changes = new MutationObserver(() => measure());
    changes.observe(row.current, { subtree: true, childList: true, characterData: true });
    return () => changes.disconnect();
  }, []);
  // Before its fonts are there a page is drawn in others, which may be wider.
  const refit = useEffectEvent(() => {
    if (!open) setNeeded(null);
  });
  useEffect(() => {
    const fonts = document.fonts as FontFaceSet | undefined;
    const forget = () => refit();
    fonts?.addEventListener("loadingdone", forget);
    return () => fonts?.removeEventListener("loadingdone", forget);
  }, []);
  return { row, folded };
}

/** The ways of looking at what is shown. */
function Looks() {
  const { subject, show, palette, set } = useViewParts("subject", "show", "palette", "set");
  const { Choices } = kindOf(subject);
  return (
    <>
      {Choices && <Choices subject={subject} show={show} />}
      {subject.kind === "reading" && (
        <ChoiceToken
          label="Colours of readings"
          value={palette}
          choices={[
            { value: "own", label: "own colours" },
            { value: "safe", label: "for all eyes" },
            { value: "grey", label: "grey" },
          ]}
          onChange={(value) => set({ palette: value as Palette })}
        />
      )}
    </>
  );
}

/** What it is laid over, how strongly, and whether water is shown. */
function Laid() {
  const state = useProject();
  const { subject, tint, water, set } = useViewParts("subject", "tint", "water", "set");
  const kind = kindOf(subject);
  const overlay = kind.tinted?.(subject) ?? false;
  const wet = (kind.wet?.(subject) ?? false) && typeof state.document.ground.water === "number";
  return (
    <>
      <LaidOn />
      {overlay && (
        <Tooltip title="The colour and strength in which the mask is laid over">
          <Box sx={{ display: "flex", alignItems: "center", gap: 0.8, width: 92, flexShrink: 0 }}>
            <TintButton />
            <Slider
              size="small"
              color="secondary"
              aria-label="Tint strength"
              value={Math.round(tint * 100)}
              min={10}
              max={100}
              onChange={(_, value) => set({ tint: (value as number) / 100 })}
            />
          </Box>
        </Tooltip>
      )}
      {wet && (
        <Tooltip title={water ? "Hide the water" : "Show the water"}>
          <IconButton
            size="small"
            aria-label="Water"
            aria-pressed={water}
            color={water ? "secondary" : "default"}
            onClick={() => set({ water: !water })}
          >
            <WaterIcon fontSize="small" />
          </IconButton>
        </Tooltip>
      )}
    </>
  );
}

/** The colour of masks: the next one with every click. */
function TintButton() {
  const { tintColour, set } = useViewParts("tintColour", "set");
  const at = TINTS.findIndex((item) => item.value === tintColour);
  const next = TINTS[(at + 1) % TINTS.length] ?? TINTS[0];
  return (
    <ButtonBase
      aria-label={`Tint colour: ${TINTS[at]?.label ?? "own"}. Click for ${next?.label ?? "another"}.`}
      onClick={() => next && set({ tintColour: next.value })}
      sx={{
        width: 24,
        height: 24,
        flexShrink: 0,
        borderRadius: 1,
        bgcolor: tintColour,
        border: `2px solid ${onMap.light}`,
        outline: `1px solid ${roles.rule}`,
      }}
    />
  );
}
