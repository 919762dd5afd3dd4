import { Box, Button, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { sentence } from "../../api/client";
import { type ChosenTiles, isGoing, useDeliveries, useJobActions, usePlan } from "../../document/queries";
import { Card, Heading, Inset } from "../../kit/Card";
import { megabytes } from "../../kit/megabytes";
import { settled, useDocument, useProject } from "../../document/document";
import { useView } from "../../viewport/view";
import { AddFile } from "./AddFile";
import { ClassesInset } from "./ClassesInset";
import { CutOff } from "./CutOff";
import { DeliveryInset } from "./DeliveryInset";
import { DeliverySentence } from "./DeliverySentence";
import { Groups } from "./Groups";
import { NumbersToType } from "./NumbersToType";
import { TilesInset } from "./TilesInset";
import { Trial } from "./Trial";

/** What goes where: one sentence, the files in groups, what is typed in there, and earlier deliveries. */
export function DeliveryCard() {
  const { cautions } = useProject();
  const tell = useDocument((store) => store.tell);
  const show = useView((view) => view.show);
  const plan = usePlan();
  const deliveries = useDeliveries();
  const jobs = useJobActions();
  const [starting, setStarting] = useState(false);
  // Nothing to write, nothing to look at as it will be written.
  const empty = plan.data?.groups.every((group) => group.items.length === 0) ?? false;
  useEffect(() => {
    if (empty) show({ kind: "layers", over: true });
  }, [empty, show]);

  const going = deliveries.data?.find(isGoing);
  const start = async (only: string[] | null, tiles: ChosenTiles | null = null) => {
    setStarting(true);
    try {
      await settled();
      await jobs.deliver(only, false, tiles);
    } catch (error) {
      tell(sentence(error));
    } finally {
      setStarting(false);
    }
  };
  const refused = plan.data?.refused ?? null;
  const [low, high] = (refused === null && plan.data?.beyond) || [];
  const height = plan.data?.groups.flatMap((group) => group.items).find((item) => item.kind === "height");
  const beyond = height && low !== undefined && high !== undefined && { item: height, low, high };
  const busy = starting || going !== undefined;
  const files = plan.data?.files ?? 0;
  return (
    <Card
      title="Delivery"
      action={
        <Button variant="outlined" color="inherit" disabled={busy} onClick={() => void start(["height"])}>
          Height only, to look
        </Button>
      }
      foot={
        going ? (
          <DeliveryInset delivery={going} />
        ) : (
          <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
            <Button variant="contained" disabled={busy || refused !== null} onClick={() => void start(null)}>
              Deliver {plan.data && !refused ? `${files} ${files === 1 ? "file" : "files"}` : ""}
            </Button>
            <Typography variant="caption" color="textSecondary">
              {refused ? "see above" : `${megabytes(plan.data?.bytes ?? 0)} at most · import note, recipe, manifest`}
            </Typography>
          </Box>
        )
      }
    >
      <DeliverySentence />
      {refused && (
        <Inset>
          <Typography color="error" variant="body2">
            {refused}
          </Typography>
        </Inset>
      )}
      {cautions
        .filter((item) => item.message !== refused && !(beyond && item.short === "heights cut off"))
        .map((item) => (
          <Typography key={item.message} variant="body2" color="warning" sx={{ fontWeight: 600, my: 0.4 }}>
            ! {item.message}
          </Typography>
        ))}
      {beyond && <CutOff {...beyond} />}
      {plan.data && <Groups plan={plan.data} />}
      {plan.data && <AddFile plan={plan.data} />}
      <ClassesInset />
      <Trial trial={plan.data?.trial ?? null} />
      {plan.data && !refused && (
        <TilesInset tiles={plan.data.height_tiles} busy={busy} onDeliver={(tiles) => start(null, tiles)} />
      )}
      {plan.data && !refused && <NumbersToType plan={plan.data} />}
      <Heading>Deliveries</Heading>
      {deliveries.data?.length === 0 && (
        <Typography variant="body2" color="textSecondary">
          None yet. What is delivered can be taken as one zip, and the fit check can read it back.
        </Typography>
      )}
      {(deliveries.data?.length ?? 0) > 1 && (
        <Typography variant="caption" color="textSecondary" sx={{ display: "block", mb: 0.5 }}>
          Kept are the newest ten, the last for each target, those with a name, and what a folder holds; others are
          cleared when a new one is there.
        </Typography>
      )}
      {deliveries.data
        ?.filter((item) => item !== going)
        .map((item) => (
          <DeliveryInset key={item.number} delivery={item} />
        ))}
    </Card>
  );
}
