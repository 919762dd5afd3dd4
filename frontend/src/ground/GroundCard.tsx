import { Button } from "@mui/material";
import { useEffect, useState } from "react";
import { useDiagnosis } from "../api/queries";
import { Card, WhereItGoes } from "../parts/Card";
import { formatTitle } from "../shelf/FileReading";
import { useProject } from "../state/document";
import { useView } from "../state/view";
import { trim } from "../viewport/subjects";
import { Findings } from "./Findings";
import { Measures } from "./Measures";
import { Preparation } from "./Preparation";
import { ReplaceDialog } from "./ReplaceDialog";

export function GroundCard() {
  const { document } = useProject();
  const show = useView((view) => view.show);
  const [replacing, setReplacing] = useState(false);
  const diagnosis = useDiagnosis();
  const { ground } = document;
  useEffect(() => show({ kind: "ground", style: "heights" }), [show]);
  const order = ground.byte_order ? ` · ${ground.byte_order} endian` : "";
  const sub = `${ground.file_name} · ${formatTitle(ground.file_format)} ${ground.depth}${order} · ${trim(ground.cols)} × ${trim(ground.rows)} · north up`;
  return (
    <Card
      title="Ground"
      action={
        <Button variant="outlined" color="inherit" onClick={() => setReplacing(true)}>
          Replace…
        </Button>
      }
      sub={sub}
      foot={<WhereItGoes steps={["Ground", "readings", "masks", "height file"]} />}
    >
      <Measures diagnosis={diagnosis.data} />
      <Findings diagnosis={diagnosis.data} />
      <Preparation diagnosis={diagnosis.data} />
      <ReplaceDialog open={replacing} onClose={() => setReplacing(false)} />
    </Card>
  );
}
