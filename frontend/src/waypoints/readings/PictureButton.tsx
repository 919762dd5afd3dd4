import { Alert, Box } from "@mui/material";
import { useState } from "react";
import { sentence, upload } from "../../api/client";
import { newId, useDocument, useProject } from "../../document/document";
import { FileButton } from "../../kit/FileButton";

interface Brought {
  asset: string;
  kind: string;
  name: string;
  samples: string;
  says: string;
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
      const own = newId(found.kind);
      const name = found.name.replace(/\.[^.]*$/, "").slice(0, 60) || "Picture";
      const setting = { id: own, kind: found.kind, name, numbers: { asset: found.asset, samples: found.samples } };
      if (await edit([{ op: "add_reading", setting }])) onMade(own);
    } catch (error) {
      setTrouble(sentence(error));
    }
  };
  return (
    <Box sx={{ mt: 1.5 }}>
      <FileButton id="picture-file" what="picture" onFiles={([file]) => file && void take(file)}>
        Lay a picture over the ground…
      </FileButton>
      {trouble && (
        <Alert severity="error" sx={{ mt: 1 }}>
          {trouble}
        </Alert>
      )}
    </Box>
  );
}
