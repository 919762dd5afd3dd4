import { Box, Button } from "@mui/material";
import { useDocument, useProject } from "../../document/document";
import { useView } from "../../viewport/view";
import { MetresToken } from "./MetresToken";
import { useGroundEdit } from "./useGroundEdit";

/** The water level, or that there is none. */
export function WaterSentence() {
  const { document, file_ends } = useProject();
  const { ground } = document;
  const edit = useDocument((store) => store.edit);
  const look = useView((view) => view.set);
  const set = useGroundEdit();
  const begin = () => {
    const [low = 0, high = 0] = file_ends;
    void set({ water: Math.round(low + (high - low) * 0.05) }, false, "water");
  };
  return (
    <Box sx={{ display: "flex", alignItems: "center", justifyContent: "space-between" }}>
      {typeof ground.water === "number" ? (
        <>
          <span>
            Water stands at{" "}
            <MetresToken
              label="Water level"
              value={ground.water}
              onCommit={async (v, key) => {
                const done = await set({ water: v }, key, "water");
                look({ shore: null });
                return done;
              }}
              onPreview={(v) => look({ shore: v })}
            />
          </span>
          <Button size="small" color="inherit" onClick={() => void edit([{ op: "set_ground", no_water: true }])}>
            No water
          </Button>
        </>
      ) : (
        <>
          <span>No water here.</span>
          <Button size="small" variant="outlined" color="inherit" onClick={begin}>
            Set a level
          </Button>
        </>
      )}
    </Box>
  );
}
