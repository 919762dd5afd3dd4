import { Box, Button, LinearProgress, Typography } from "@mui/material";
import CheckIcon from "@mui/icons-material/Check";
import PriorityHighIcon from "@mui/icons-material/PriorityHigh";
import { useEffect } from "react";
import { useNavigate } from "react-router";
import { sentence } from "../api/client";
import { isGoing, outdatedFiles, useDeliveries, useJobActions, useJobs, useTargets } from "../api/queries";
import type { Delivery, Fit } from "../api/types";
import { Card, Heading, Inset } from "../parts/Card";
import { ChoiceToken } from "../parts/ChoiceToken";
import { useDocument, useProject } from "../state/document";
import { useView } from "../state/view";
import { MONO, roles } from "../theme";
import { mapStore } from "../viewport/pictures";
import { trim } from "../viewport/subjects";
import { useState } from "react";

export function FitCard() {
  const { id, document } = useProject();
  const tell = useDocument((store) => store.tell);
  const { subject, show } = useView();
  const deliveries = useDeliveries();
  const running = useJobs();
  const targets = useTargets();
  const jobs = useJobActions();
  const go = useNavigate();
  const [picked, setPicked] = useState<number | null>(null);
  const target = targets.data?.find((item) => item.id === document.delivery.target);
  const done = deliveries.data?.filter((item) => item.job.state === "done") ?? [];
  const delivery = done.find((item) => item.number === picked) ?? done[0] ?? null;
  const checking = running.data?.find((job) => job.kind === "fit" && job.number === delivery?.number);
  const fit = delivery?.fit ?? null;
  const number = delivery?.number ?? null;
  const pictured = delivery?.has_difference === true && fit !== null;
  const style = subject.kind === "fit" ? subject.style : "difference";

  useEffect(() => {
    mapStore.forgetFits();
    if (number !== null && pictured) show({ kind: "fit", number, style });
    else show({ kind: "ground", style: "heights" });
  }, [number, pictured, style, delivery?.fit_at, show]);

  const check = async () => {
    if (number === null) return;
    try {
      await jobs.fit(number);
    } catch (error) {
      tell(sentence(error));
    }
  };
  const again = async () => {
    try {
      await jobs.deliver();
      await go(`/project/${id}/delivery`);
    } catch (error) {
      tell(sentence(error));
    }
  };
  const busy = checking !== undefined;
  return (
    <Card
      title="Fit check"
      action={
        <Button variant="contained" disabled={number === null || busy} onClick={() => void check()}>
          {fit ? "Check again" : "Check the fit"}
        </Button>
      }
      sub={
        delivery ? (
          <>
            {target?.title} ·{" "}
            <ChoiceToken
              label="Which delivery"
              value={String(number)}
              choices={done.map((item) => ({ value: String(item.number), label: `delivery ${item.number}` }))}
              onChange={(value) => setPicked(Number(value))}
            />
            {fit && ` · ${fit.files} files read back`}
          </>
        ) : undefined
      }
    >
      {!delivery && (
        <Typography color="textSecondary" sx={{ mt: 1 }}>
          {deliveries.data?.some(isGoing)
            ? "A delivery is being written. When it is there, its files can be read back here."
            : "There is nothing to read back yet. Deliver first: then the files are read from disk as the target would read them, and compared with the project."}
        </Typography>
      )}
      {busy && (
        <Box sx={{ my: 1 }}>
          <LinearProgress aria-label="Reading the files back" />
          <Typography variant="caption" color="textSecondary">
            {checking.message}
          </Typography>
        </Box>
      )}
      {delivery && !fit && !busy && (
        <Typography color="textSecondary" sx={{ mt: 1 }}>
          Not checked yet. The check reads all files back from disk, knowing only the import note, and rebuilds height
          and weights from them.
        </Typography>
      )}
      {delivery && fit && <Result fit={fit} delivery={delivery} onAgain={() => void again()} />}
    </Card>
  );
}

function Result({ fit, delivery, onAgain }: { fit: Fit; delivery: Delivery; onAgain: () => void }) {
  const outdated = outdatedFiles(delivery, useProject());
  const wrong = new Set(fit.findings.filter((item) => item.severity === "error").map((item) => item.file)).size;
  return (
    <>
      <Box
        role="status"
        data-testid="verdict"
        sx={{
          borderRadius: 1.5,
          px: 1.5,
          py: 1.2,
          my: 1,
          bgcolor: fit.fits ? roles.mossWash : roles.amberWash,
        }}
      >
        <Typography variant="h3" color={fit.fits ? "primary" : "warning"}>
          {fit.fits ? "Everything fits" : wrong === 1 ? "One file does not fit" : `${wrong} files do not fit`}
        </Typography>
        <Typography variant="body2">
          {fit.fits
            ? `All ${fit.files} files line up with the project, sample by sample.`
            : `${Math.max(fit.files - wrong, 0)} of ${fit.files} files line up.`}
        </Typography>
      </Box>
      {outdated.length > 0 && (
        <Typography variant="body2" color="warning" sx={{ fontWeight: 600, mb: 1 }}>
          ! The project has changed since this delivery: {outdated.join(", ")}
        </Typography>
      )}
      {fit.findings.map((item) => (
        <Inset key={item.kind + item.file + item.message}>
          <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
            <Box sx={{ flex: 1 }}>
              <Typography variant="body2" color="warning" sx={{ fontWeight: 700 }}>
                {item.message}
              </Typography>
              <Typography variant="caption" color="textSecondary">
                {item.fix}
              </Typography>
            </Box>
            <Button variant="contained" onClick={onAgain} sx={{ flexShrink: 0 }}>
              Deliver again
            </Button>
          </Box>
        </Inset>
      ))}
      <Box
        component="table"
        aria-label="What was measured"
        sx={{
          width: "100%",
          borderCollapse: "collapse",
          fontSize: 12.5,
          "& td": {
            borderTop: "1px dashed",
            borderColor: "divider",
            py: 0.7,
            pr: 1,
            verticalAlign: "baseline",
          },
        }}
      >
        <tbody>
          {fit.facts.map((fact) => (
            <tr key={fact.title}>
              <td style={{ width: 24 }}>
                {fact.good ? (
                  <CheckIcon sx={{ fontSize: 16, verticalAlign: "-3px" }} aria-label="right" />
                ) : (
                  <PriorityHighIcon color="warning" sx={{ fontSize: 16, verticalAlign: "-3px" }} aria-label="wrong" />
                )}
              </td>
              <td>
                <b>{fact.title}</b>
              </td>
              <Box component="td" sx={{ fontFamily: MONO, whiteSpace: "nowrap" }}>
                {fact.result}
              </Box>
              <td>{fact.detail}</td>
            </tr>
          ))}
        </tbody>
      </Box>
      <Heading>Read these off in the real thing</Heading>
      <Box sx={{ fontSize: 12.5 }}>
        {fit.check_points.map((point) => (
          <Box key={point.title} sx={{ display: "flex", justifyContent: "space-between", gap: 1, py: 0.2 }}>
            <span>
              {point.title}
              <Box component="span" sx={{ color: "text.secondary" }}>
                , {trim(point.east)} m east, {trim(point.north)} m north
              </Box>
            </span>
            <Box component="span" sx={{ fontFamily: MONO, whiteSpace: "nowrap" }}>
              {point.height.toFixed(2)} m
            </Box>
          </Box>
        ))}
      </Box>
    </>
  );
}
