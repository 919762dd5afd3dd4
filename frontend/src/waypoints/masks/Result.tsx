import { named } from "../../api/mapNames";
import { Alert, Box, Button, ButtonBase, CircularProgress, Typography } from "@mui/material";
import { useState } from "react";
import { ask, client, sentence, type Schemas } from "../../api/client";
import { useBands, useStats, useWorking } from "../../document/queries";
import type { Mask } from "../../api/types";
import { Heading } from "../../kit/Card";
import { percent } from "../../kit/percent";
import { PlainHistogram } from "../recipe/PlainHistogram";
import { newId, settled, useDocument, useProject } from "../../document/document";
import { useView, useViewParts } from "../../viewport/view";
import { MONO, roles } from "../../kit/theme";
import { trim } from "../../kit/numbers";
import { freeName } from "../recipe/lines";

/** What came out: how much ground, how strong, its bands, and whether the delivered size will look the same. */
export function Result({ mask }: { mask: Mask }) {
  const stats = useStats(named.mask(mask.id)).data;
  const bands = useProject().bands[mask.id];
  if (!stats) return null;
  return (
    <Box component="section" aria-label={`What came out of ${mask.name}`}>
      <Heading aside={`${percent(stats.mean)} of the ground · ${area(stats.mean * stats.area)}`}>What came out</Heading>
      {stats.why && (
        <Alert severity="warning" sx={{ mb: 1 }}>
          {stats.why}
        </Alert>
      )}
      <PlainHistogram stats={stats} label={`Strengths of ${mask.name}, from 0 to 1`} />
      <Box sx={{ display: "flex", justifyContent: "space-between", fontSize: 11, color: "text.secondary" }}>
        <span>0</span>
        <span>strength</span>
        <span>1</span>
      </Box>
      {bands !== undefined && <BandList mask={mask} count={bands} />}
      <FinalCheck key={mask.id} mask={mask} />
    </Box>
  );
}

export function area(squareMetres: number): string {
  return squareMetres >= 1e6 ? `${trim(squareMetres / 1e6, 2)} km²` : `${trim(squareMetres, 0)} m²`;
}

/** The bands a mask is cut into: each can be looked at, and made a mask of its own. */
function BandList({ mask, count }: { mask: Mask; count: number }) {
  const bands = useBands(mask.id).data;
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const { subject, show, set } = useViewParts("subject", "show", "set");
  const make = async (band: number) => {
    const id = newId("mask");
    const name = freeName(
      document.masks.map((item) => item.name),
      `${mask.name} band ${band + 1}`,
    );
    const source = { kind: "mask" as const, mask: mask.id, band };
    const line = { id: newId("line"), verb: "take" as const, muted: false, note: "", strength: 1, source };
    if (await edit([{ op: "add_mask", mask: { id, name, lines: [line] } }]))
      set({ selectedMask: id, selectedLine: null });
  };
  return (
    <Box component="ul" aria-label={`Bands of ${mask.name}`} sx={{ p: 0, m: 0, mt: 1, listStyle: "none" }}>
      {Array.from({ length: count }, (_, band) => {
        const shown = subject.kind === "band" && subject.mask === mask.id && subject.band === band;
        return (
          <Box component="li" key={band} sx={{ display: "flex", alignItems: "center", gap: 1, fontSize: 13 }}>
            <ButtonBase
              aria-pressed={shown}
              onClick={() =>
                show(
                  shown
                    ? { kind: "mask", id: mask.id, style: "bands", lines: null }
                    : { kind: "band", mask: mask.id, band },
                )
              }
              sx={{
                flex: 1,
                justifyContent: "space-between",
                minHeight: 26,
                px: 1,
                borderRadius: 1,
                fontFamily: "inherit",
                bgcolor: shown ? roles.gentianWash : "transparent",
              }}
            >
              <span>
                Band {band + 1}
                {bands && ` · ${edge(bands.edges, band)}`}
              </span>
              <Box component="span" sx={{ fontFamily: MONO }}>
                {bands ? percent(bands.shares[band] ?? 0) : "…"}
              </Box>
            </ButtonBase>
            <Button size="small" color="inherit" onClick={() => void make(band)}>
              Make a mask
            </Button>
          </Box>
        );
      })}
    </Box>
  );
}

function edge(edges: number[], band: number): string {
  const at = (i: number, end: number) => (edges[i] ?? end).toFixed(2);
  return `${at(band - 1, 0)} to ${at(band, 1)}`;
}

/** Draft against final: made at the delivered size, compared, and explained. */
function FinalCheck({ mask }: { mask: Mask }) {
  const { id, document, revision } = useProject();
  const show = useView((view) => view.show);
  const [busy, setBusy] = useState(false);
  const [found, setFound] = useState<{ revision: number; final: Schemas["FinalOut"] } | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const run = async () => {
    setBusy(true);
    setTrouble(null);
    try {
      await settled();
      const final = await ask(
        client.POST("/api/projects/{project_id}/finals/{mask_id}", {
          params: { path: { project_id: id, mask_id: mask.id } },
        }),
      );
      setFound({ revision, final });
      show({ kind: "final", mask: mask.id });
    } catch (error) {
      setTrouble(sentence(error));
    } finally {
      setBusy(false);
    }
  };
  const final = found?.final;
  const task = useWorking(busy).data?.find((item) => item.title === "Making the mask at final size");
  return (
    <Box sx={{ mt: 1.2 }}>
      <Button
        size="small"
        variant="outlined"
        color="inherit"
        disabled={busy}
        startIcon={busy ? <CircularProgress size={14} /> : undefined}
        onClick={() => void run()}
      >
        Draft against final ({document.delivery.cols} × {document.delivery.rows})
      </Button>
      {busy && task && (
        <Typography component="span" variant="caption" sx={{ ml: 1 }}>
          {Math.round(task.share * 100)} %{" "}
          <Button
            size="small"
            color="inherit"
            onClick={() =>
              void client.POST("/api/projects/{project_id}/working/{key}/stop", {
                params: { path: { project_id: id, key: task.key } },
              })
            }
          >
            Stop
          </Button>
        </Typography>
      )}
      {trouble && (
        <Alert severity="error" sx={{ mt: 1 }}>
          {trouble}
        </Alert>
      )}
      {final && (
        <Typography component="div" sx={{ mt: 0.8, fontSize: 13 }} role="status">
          {found.revision !== revision && <b>Before the last change: </b>}
          {final.worst < 0.004 ? (
            <>The delivered size looks the same.</>
          ) : (
            <>
              Differs by up to <b>{final.worst.toFixed(2)}</b>, on average {final.mean.toFixed(3)};{" "}
              {percent(final.share)} of the ground by more than 0.1. Worst {trim(final.east, 0)} m east and{" "}
              {trim(final.south, 0)} m south of the north-west corner.
              {final.line !== null && (
                <>
                  {" "}
                  It begins at line {final.line}. {final.reason}
                </>
              )}
            </>
          )}
        </Typography>
      )}
    </Box>
  );
}
