import { named } from "../../api/mapNames";
import { Alert, Box, Typography } from "@mui/material";
import { useState } from "react";
import { sentence } from "../../api/client";
import { useScatterPoints } from "../../document/queries";
import type { Scatter } from "../../api/types";
import { Heading } from "../../kit/Card";
import { MoreMenu } from "../../kit/MoreMenu";
import { useOwnFile } from "../files/useOwnFile";
import { NameDialog } from "../../kit/NameDialog";
import { useDocument, useProject } from "../../document/document";
import { trim } from "../../kit/numbers";
import { ScatterSentences } from "./ScatterSentences";
import { useScatterEdit } from "./useScatterEdit";

/** One thing that is scattered. */
export function ScatterCard({ scatter }: { scatter: Scatter }) {
  const { id } = useProject();
  const edit = useDocument((store) => store.edit);
  const points = useScatterPoints(scatter.id);
  const own = useOwnFile(named.scatter(scatter.id));
  const [renaming, setRenaming] = useState(false);
  const change = useScatterEdit(scatter);
  const file = `/api/projects/${id}/scatters/${scatter.id}/points?form=`;
  return (
    <>
      <Box sx={{ display: "flex", alignItems: "center", justifyContent: "space-between", mt: 1 }}>
        <Heading>{scatter.name}</Heading>
        <MoreMenu
          label={`More for ${scatter.name}`}
          actions={[
            { label: "Rename…", act: () => setRenaming(true) },
            own.action,
            { label: "Points as CSV", act: { href: `${file}csv` } },
            { label: "Points as GeoJSON", act: { href: `${file}geojson` } },
            { label: "Points as PLY", act: { href: `${file}ply` } },
            {
              label: "Delete",
              act: () => void edit([{ op: "delete_scatter", scatter: scatter.id }]),
              danger: true,
            },
          ]}
        />
      </Box>
      <ScatterSentences scatter={scatter} />
      {points.error && (
        <Alert severity="error" sx={{ mt: 1 }}>
          {sentence(points.error)}
        </Alert>
      )}
      {points.data && (
        <Typography variant="body2" sx={{ mt: 1 }} role="status">
          <b>{trim(points.data.count, 0)}</b> stand on the ground.
          {points.data.crowded !== null &&
            ` The distance leaves room for at most ${trim(points.data.crowded, 2)} on 100 m².`}
        </Typography>
      )}
      <NameDialog
        open={renaming}
        title={`Rename ${scatter.name}`}
        suggestion={scatter.name}
        action="Rename"
        onClose={() => setRenaming(false)}
        onName={(name) => void change({ name })}
      />
    </>
  );
}
