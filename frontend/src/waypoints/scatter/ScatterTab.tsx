import { named } from "../../api/mapNames";
import { Box, Button, ButtonBase, Typography } from "@mui/material";
import AddIcon from "@mui/icons-material/Add";
import { useEffect } from "react";
import { ask, client } from "../../api/client";
import type { Scatter } from "../../api/types";
import { freeName } from "../recipe/lines";
import { newId, useDocument, useProject } from "../../document/document";
import { useViewParts } from "../../viewport/view";
import { roles } from "../../kit/theme";
import { ScatterCard } from "./ScatterCard";

/** Plants and stones: what is scattered, where, how densely, how large. */
export function ScatterTab() {
  const { document, id: project } = useProject();
  const edit = useDocument((store) => store.edit);
  const { subject, show } = useViewParts("subject", "show");
  const scatters = document.scatters ?? [];
  const chosen = scatters.find((item) => subject.kind === "scatter" && item.id === subject.id) ?? scatters[0] ?? null;
  const id = chosen?.id ?? null;

  useEffect(() => {
    if (id) show({ kind: "scatter", id });
  }, [id, show]);

  const add = async () => {
    const own = newId("scatter");
    const name = freeName(
      scatters.map((item) => item.name),
      scatters.length === 0 ? "Stones" : "Scatter",
    );
    const mask = document.masks[0]?.id ?? null;
    const first = await manyThousands(project, mask).catch(() => ({}));
    if (await edit([{ op: "add_scatter", scatter: { id: own, name, mask, ...first } as Scatter }]))
      show({ kind: "scatter", id: own });
  };
  return (
    <>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.8, mt: 1 }}>
        {scatters.map((item) => (
          <ButtonBase
            key={item.id}
            aria-pressed={item === chosen}
            onClick={() => show({ kind: "scatter", id: item.id })}
            sx={{
              px: 1.2,
              minHeight: 30,
              borderRadius: 1,
              fontFamily: "inherit",
              fontSize: 13.5,
              border: `1px solid ${item === chosen ? roles.gentian : roles.rule}`,
              bgcolor: item === chosen ? roles.gentianWash : "transparent",
            }}
          >
            <Box component="span" sx={{ width: 10, height: 10, borderRadius: 5, bgcolor: item.colour, mr: 0.8 }} />
            {item.name}
          </ButtonBase>
        ))}
        <Button size="small" variant="outlined" color="inherit" startIcon={<AddIcon />} onClick={() => void add()}>
          Scatter something
        </Button>
      </Box>
      {chosen ? (
        <ScatterCard key={chosen.id} scatter={chosen} />
      ) : (
        <Typography color="textSecondary" sx={{ mt: 2 }} variant="body2">
          Nothing is scattered yet. Stones or plants take their density from a mask and keep a distance from each other;
          they are delivered as a density map and a list of points.
        </Typography>
      )}
    </>
  );
}

const THOUSANDS = 3000;

/** A density at which some thousands stand on the ground that a mask covers, and half the distance that leaves room for. */
async function manyThousands(project: string, mask: string | null): Promise<Pick<Scatter, "density" | "distance">> {
  const name = mask ? named.mask(mask) : named.reading("height");
  const stats = await ask(
    client.GET("/api/projects/{project_id}/stats", { params: { path: { project_id: project }, query: { name } } }),
  );
  const covered = stats.area * (mask ? Math.max(stats.mean, 1e-4) : 1);
  const density = Math.min(Math.max((THOUSANDS / covered) * 100, 0.01), 100);
  const apart = Math.sqrt(100 / density);
  return { density: Number(density.toPrecision(2)), distance: Number((apart / 3).toPrecision(2)) };
}
