import { Typography } from "@mui/material";
import { useState } from "react";
import { useSizes, useTargets } from "../../document/queries";
import { TokenButton } from "../../kit/ChoiceToken";
import { useProject } from "../../document/document";
import { trim } from "../../kit/numbers";
import { DestinationToken } from "./DestinationToken";
import { NamePattern } from "./NamePattern";
import { SizeDialog } from "./SizeDialog";
import { TargetDialog } from "./TargetDialog";

/** For whom, at which size, under which names, and where else it goes. */
export function DeliverySentence() {
  const { document, final } = useProject();
  const targets = useTargets();
  const sizes = useSizes(true, null);
  const [open, setOpen] = useState<"target" | "size" | null>(null);
  const { delivery } = document;
  const chosen = targets.data?.find((item) => item.id === delivery.target);
  const now = `${delivery.cols} × ${delivery.rows}`;
  const own = sizes.data?.find((item) => item.rows === delivery.rows && item.cols === delivery.cols)?.own ?? false;
  const [dx, dy] = [trim(final.spacing_x, 4), trim(final.spacing_y, 4)];
  return (
    <>
      <Typography component="div" sx={{ lineHeight: 2.1, fontSize: 14 }}>
        For{" "}
        <TokenButton
          label={`Target: ${chosen?.title ?? ""}`}
          text={chosen?.title ?? "…"}
          onOpen={() => setOpen("target")}
        />{" "}
        at <TokenButton label={`Size: ${now}`} text={now} onOpen={() => setOpen("size")} />
        {own ? ", the ground's own," : ","} {dx === dy ? `${dx}\u00a0m` : `${dx} × ${dy}\u00a0m`} apart. Names{" "}
        <NamePattern />
        <DestinationToken />.
      </Typography>
      <Typography variant="caption" color="textSecondary" component="p" sx={{ mt: 0, mb: 1 }}>
        {chosen?.sentence}
      </Typography>
      <TargetDialog open={open === "target"} onClose={() => setOpen(null)} />
      <SizeDialog open={open === "size"} onClose={() => setOpen(null)} />
    </>
  );
}
