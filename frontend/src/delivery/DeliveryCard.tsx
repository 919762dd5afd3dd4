import { Box, Button, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { sentence } from "../api/client";
import { isGoing, useDeliveries, useJobActions, usePlan } from "../api/queries";
import { Card, Heading, Inset } from "../parts/Card";
import { settled, useDocument, useProject } from "../state/document";
import { useView } from "../state/view";
import { trim } from "../viewport/subjects";
import { DeliveryInset } from "./DeliveryInset";
import { NamePattern } from "./NamePattern";
import { Numbers } from "./Numbers";
import { PlannedFile } from "./PlannedFile";
import { SizeAndTarget } from "./SizeAndTarget";

export function DeliveryCard() {
  const { cautions } = useProject();
  const tell = useDocument((store) => store.tell);
  const show = useView((view) => view.show);
  const plan = usePlan();
  const deliveries = useDeliveries();
  const jobs = useJobActions();
  const [starting, setStarting] = useState(false);
  useEffect(() => show({ kind: "layers", over: true }), [show]);

  const going = deliveries.data?.find(isGoing);
  const start = async () => {
    setStarting(true);
    try {
      await settled();
      await jobs.deliver();
    } catch (error) {
      tell(sentence(error));
    } finally {
      setStarting(false);
    }
  };
  const refused = plan.data?.refused ?? null;
  const waits = cautions.filter((item) => item.waypoint !== "delivery");
  return (
    <Card
      title="Delivery"
      sub="Files, resampled onto a legal size with the right registration, and a note of what to type in."
      foot={
        <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
          <Button
            variant="contained"
            disabled={starting || going !== undefined || refused !== null}
            onClick={() => void start()}
          >
            Deliver {plan.data ? `${plan.data.items.length} files` : ""}
          </Button>
          <Typography variant="caption" color="textSecondary">
            {refused ?? (going ? "one is running" : "plus import note and manifest")}
          </Typography>
        </Box>
      }
    >
      <SizeAndTarget />
      <Heading>What will be written</Heading>
      {refused && (
        <Inset>
          <Typography color="error" variant="body2">
            {refused}
          </Typography>
        </Inset>
      )}
      {plan.data?.items.map((item) => (
        <PlannedFile key={item.file} item={item} />
      ))}
      <NamePattern />
      {plan.data && !refused && (
        <>
          <Heading aside="on the import note">To type in there</Heading>
          <Numbers
            rows={[
              [
                "Blocks",
                `${plan.data.blocks_x} × ${plan.data.blocks_y} of ${plan.data.patches_per_block_side}² patches of ${plan.data.patch_cells}² cells`,
              ],
              ["Vertical scale", trim(plan.data.vertical_scale ?? 0, 8)],
              ["Vertical position", `${trim(plan.data.vertical_position ?? 0, 4)} m`],
              ["One step", `${trim((plan.data.step ?? 0) * 1000, 3)} mm`],
            ]}
          />
        </>
      )}
      {waits.length > 0 && <Heading>To look at first</Heading>}
      {waits.map((item) => (
        <Typography key={item.message} variant="body2" color="warning" sx={{ fontWeight: 600 }}>
          ! {item.message}
        </Typography>
      ))}
      <Heading>Deliveries</Heading>
      {deliveries.data?.length === 0 && (
        <Typography variant="body2" color="textSecondary">
          None yet. What is delivered can be taken as one zip, and the fit check can read it back.
        </Typography>
      )}
      {deliveries.data?.map((item) => (
        <DeliveryInset key={item.number} delivery={item} />
      ))}
    </Card>
  );
}
