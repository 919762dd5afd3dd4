import { Button, Typography, Box } from "@mui/material";
import { useEffect, useRef, useState, type ReactNode } from "react";
import { sentence } from "../../api/client";
import type { RawMap } from "../../api/maps";
import { useProject } from "../../document/document";
import { nearestTo } from "../../viewport/places";
import { useView } from "../../viewport/view";

interface SideBySideProps<Pair extends RawMap> {
  open: string;
  close: string;
  /** What is asked for, besides the place and the state of the project: another one is another picture. */
  of: string;
  ask: (project: string, place: { row: number; col: number }, signal: AbortSignal) => Promise<Pair>;
  left: string;
  right: string;
  /** What else is said of them. */
  children?: (pair: Pair) => ReactNode;
  name: string;
}

/** Two pictures of the middle of the view, side by side, opened by a button; what they are is said under each. */
export function SideBySide<Pair extends RawMap>(props: SideBySideProps<Pair>) {
  const { open, close, of, ask, left, right, children, name } = props;
  const { id, home, revision } = useProject();
  const camera = useView((view) => view.camera);
  const canvas = useRef<HTMLCanvasElement>(null);
  const asking = useRef(ask);
  const [shown, setShown] = useState(false);
  const [made, setMade] = useState<{ pair: Pair; stamp: string } | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const { row, col } = nearestTo(home, { east: camera.x * home.width, south: camera.y * home.length });
  // What is there stays until what is asked for comes, and says that it is of before.
  const stamp = `${revision} ${of} ${row} ${col}`;
  const fresh = made?.stamp === stamp;
  useEffect(() => {
    asking.current = ask;
  });
  useEffect(() => {
    if (!shown) return;
    const stop = new AbortController();
    const timer = setTimeout(() => {
      asking.current(id, { row, col }, stop.signal).then(
        (map) => {
          draw(canvas.current, map);
          setMade({ pair: map, stamp });
          setTrouble(null);
        },
        (error: unknown) => stop.signal.aborted || setTrouble(sentence(error)),
      );
    }, 120);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [shown, id, row, col, stamp]);
  return (
    <Box sx={{ mt: 1 }} onClick={(event) => event.stopPropagation()}>
      <Button size="small" color="inherit" aria-expanded={shown} onClick={() => setShown(!shown)}>
        {shown ? close : open}
      </Button>
      {shown && (
        <>
          <canvas
            ref={canvas}
            style={{ width: "100%", display: "block", borderRadius: 6, opacity: fresh ? 1 : 0.45 }}
            data-testid={name}
          />
          <Typography variant="caption" component="div" sx={{ display: "flex", lineHeight: 1.5, fontWeight: 600 }}>
            <Box sx={{ flex: 1 }}>{left}</Box>
            <Box sx={{ flex: 1, pl: 0.5 }}>{right}</Box>
          </Typography>
          <Typography variant="caption" color="textSecondary" component="div" sx={{ lineHeight: 1.5 }}>
            {!fresh && !trouble && "Making the two pictures… "}
            {made && <>The middle of the view. {children?.(made.pair)}</>}
          </Typography>
          {trouble && <Typography color="error">{trouble}</Typography>}
        </>
      )}
    </Box>
  );
}

function draw(canvas: HTMLCanvasElement | null, map: RawMap): void {
  if (!canvas) return;
  const image = new ImageData(map.cols, map.rows);
  for (let i = 0, o = 0; o < image.data.length; i += 3, o += 4)
    image.data.set([map.values[i] ?? 0, map.values[i + 1] ?? 0, map.values[i + 2] ?? 0, 255], o);
  canvas.width = map.cols;
  canvas.height = map.rows;
  const pen = canvas.getContext("2d");
  if (!pen) return;
  pen.putImageData(image, 0, 0);
  pen.fillStyle = "#fffdf7";
  pen.fillRect(Math.round(map.cols / 2) - 1, 0, 2, map.rows);
}
