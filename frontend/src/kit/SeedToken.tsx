import { Box, Button, ButtonBase, IconButton, Popover, Tooltip, Typography } from "@mui/material";
import DiceIcon from "@mui/icons-material/CasinoOutlined";
import { useEffect, useRef, useState } from "react";
import { MONO, roles, SURROUND } from "./theme";
import { NumberToken, type NumberTokenProps } from "./NumberToken";
import { showImage } from "./showImage";

export const TRIES = 8;

/** A small picture of what a seed would give; ends when it is no longer wanted. */
export type SeedPicture = (seed: number, slot: number, signal: AbortSignal) => Promise<ImageData>;

interface SeedTokenProps extends NumberTokenProps {
  picture: SeedPicture;
}

/** A seed: a number like any other, or one of eight pictures of what others would give. */
export function SeedToken({ picture, ...token }: SeedTokenProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <NumberToken {...token} />
      <Tooltip title="Try seeds">
        <IconButton
          size="small"
          aria-label={`Try seeds for ${token.label.toLowerCase()}`}
          onClick={(event) => setAnchor(event.currentTarget)}
          sx={{ width: 24, height: 24 }}
        >
          <DiceIcon sx={{ fontSize: 17 }} />
        </IconButton>
      </Tooltip>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
        slotProps={{ paper: { sx: { p: 1.5, width: 420 } } }}
      >
        {anchor && (
          <Tries
            label={token.label}
            value={token.value}
            max={token.max}
            picture={picture}
            onChoose={(seed) => {
              setAnchor(null);
              void token.onCommit(seed, false);
            }}
          />
        )}
      </Popover>
    </>
  );
}

interface TriesProps {
  label: string;
  value: number;
  max: number;
  picture: SeedPicture;
  onChoose: (seed: number) => void;
}

function Tries({ label, value, max, picture, onChoose }: TriesProps) {
  const [first, setFirst] = useState(value + 1);
  const seeds = Array.from({ length: TRIES }, (_, i) => (first + i) % (max + 1));
  return (
    <Box role="group" aria-label={`Seeds for ${label.toLowerCase()}`}>
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(4, 1fr)", gap: 1 }}>
        {seeds.map((seed, slot) => (
          <Try key={seed} seed={seed} slot={slot} picture={picture} onChoose={onChoose} />
        ))}
      </Box>
      <Box sx={{ display: "flex", justifyContent: "space-between", alignItems: "center", mt: 1 }}>
        <Button size="small" color="inherit" onClick={() => setFirst(first + TRIES)}>
          Eight more
        </Button>
        <Typography variant="caption" color="textSecondary">
          a part of the ground, from near by
        </Typography>
      </Box>
    </Box>
  );
}

interface TryProps {
  seed: number;
  slot: number;
  picture: SeedPicture;
  onChoose: (seed: number) => void;
}

function Try({ seed, slot, picture, onChoose }: TryProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [state, setState] = useState<"waiting" | "there" | "failed">("waiting");
  const make = useRef(picture);
  useEffect(() => {
    const stop = new AbortController();
    make.current(seed, slot, stop.signal).then(
      (image) => {
        const element = canvas.current;
        if (!element || stop.signal.aborted) return;
        showImage(element, image);
        setState("there");
      },
      () => !stop.signal.aborted && setState("failed"),
    );
    return () => stop.abort();
  }, [seed, slot]);
  return (
    <ButtonBase
      aria-label={`Seed ${seed}`}
      data-state={state}
      onClick={() => onChoose(seed)}
      sx={{
        display: "block",
        borderRadius: 1.2,
        p: "2px",
        "&:hover": { bgcolor: roles.gentianWash },
        "&:focus-visible": { outline: `2px solid ${roles.gentian}` },
      }}
    >
      <Box sx={{ height: 84, borderRadius: 1, overflow: "hidden", bgcolor: SURROUND }}>
        <canvas
          ref={canvas}
          style={{
            width: "100%",
            height: "100%",
            objectFit: "cover",
            display: "block",
            opacity: state === "there" ? 1 : 0,
          }}
        />
      </Box>
      <Box sx={{ fontFamily: MONO, fontSize: 12, textAlign: "center" }}>
        {state === "failed" ? "not made" : state === "waiting" ? "…" : seed}
      </Box>
    </ButtonBase>
  );
}
