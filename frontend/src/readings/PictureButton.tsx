import { Alert, Box, Button } from "@mui/material";
import { useState } from "react";
import { sentence, upload } from "../api/client";
import { newId, useDocument, useProject } from "../state/document";

interface Brought {
  asset: string;
  name: string;
}

/** Bring in a picture and lay it over the ground as a reading. */
export function PictureButton({ onMade }: { onMade: (name: string) => void }) {
  const { id } = useProject();
  const edit = useDocument((store) => store.edit);
  const [trouble, setTrouble] = useState<string | null>(null);
  const take = async (file: File) => {
    setTrouble(null);
    try {
      const found = await upload<Brought>(`/api/projects/${id}/pictures`, file);
      const own = newId("picture");
      const name = found.name.replace(/\.[^.]*$/, "").slice(0, 60) || "Picture";
      const setting = { id: own, kind: "picture", name, numbers: { asset: found.asset } };
      if (await edit([{ op: "add_reading", setting }])) onMade(own);
    } catch (error) {
      setTrouble(sentence(error));
    }
  };
  return (
    <Box sx={{ mt: 1.5 }}>
      <Button component="label" variant="outlined" color="inherit" size="small">
        Lay a picture over the ground…
        <input
          type="file"
          data-testid="picture-file"
          style={{ position: "absolute", opacity: 0, width: 1, height: 1 }}
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = "";
            if (file) void take(file);
          }}
        />
      </Button>
      {trouble && (
        <Alert severity="error" sx={{ mt: 1 }}>
          {trouble}
        </Alert>
      )}
    </Box>
  );
}
