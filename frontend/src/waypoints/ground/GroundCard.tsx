import { Button } from "@mui/material";
import { useDiagnosis } from "../../document/queries";
import { Card, WhereItGoes } from "../../kit/Card";
import { Coming } from "../../kit/Coming";
import { titleOf, useFormats } from "../../document/formats";
import { useProject } from "../../document/document";
import { useReplacing } from "../../document/replacing";
import { trim } from "../../kit/numbers";
import { Findings } from "./Findings";
import { Measures } from "./Measures";
import { Preparation } from "./Preparation";
import { WatchInset } from "./WatchInset";

export function GroundCard() {
  const { document } = useProject();
  const begin = useReplacing((store) => store.begin);
  const diagnosis = useDiagnosis();
  const { ground } = document;
  const formats = useFormats();
  const order = ground.byte_order ? ` · ${ground.byte_order} endian` : "";
  const sub = `${ground.file_name} · ${titleOf(formats, ground.file_format)} ${ground.depth}${order} · ${trim(ground.cols)} × ${trim(ground.rows)} · north up`;
  return (
    <Card
      title="Ground"
      action={
        <Button variant="outlined" color="inherit" onClick={() => begin({ kind: "choose" })}>
          Replace…
        </Button>
      }
      sub={sub}
      foot={<WhereItGoes steps={["Ground", "readings", "masks", "height file"]} />}
    >
      <Measures diagnosis={diagnosis.data} />
      <WatchInset />
      <Coming asked={diagnosis} what="Looking for stairs, gaps and what else may be odd…" />
      <Findings diagnosis={diagnosis.data} />
      <Preparation diagnosis={diagnosis.data} />
    </Card>
  );
}
