import { Alert, Box, Button, LinearProgress, Link, Typography } from "@mui/material";
import { useEffect, useEffectEvent, useState } from "react";
import { useNavigate } from "react-router";
import { sentence } from "../../api/client";
import { checkOf, isGoing, outdatedFiles, useDeliveries, useJobActions, useStepKinds } from "../../document/queries";
import type { Delivery, Finding, Fit, Typed } from "../../api/types";
import { newStep } from "../ground/newStep";
import { Card, Heading } from "../../kit/Card";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { settled, useProject, useDocumentParts } from "../../document/document";
import { useViewParts } from "../../viewport/view";
import { MONO, roles } from "../../kit/theme";
import { mapStore } from "../../viewport/pictures";
import { trim } from "../../kit/numbers";
import { FactsTable } from "./FactsTable";
import { FindingInset } from "./FindingInset";
import { ForeignDialog } from "./ForeignDialog";
import { MapsList } from "./MapsList";
import { fitSubject, mapOf, verdict } from "./subject";
import { TypedInset } from "./TypedInset";

export function FitCard() {
  const { id } = useProject();
  const { tell, edit } = useDocumentParts("tell", "edit");
  const deliveries = useDeliveries();
  const kinds = useStepKinds();
  const jobs = useJobActions();
  const go = useNavigate();
  const [picked, setPicked] = useState<number | null>(null);
  const [foreign, setForeign] = useState(false);
  const done = deliveries.data?.filter((item) => item.job.state === "done") ?? [];
  const delivery = done.find((item) => item.number === picked) ?? done[0] ?? null;
  const checking = checkOf(delivery);
  const failed = delivery?.check?.state === "failed" ? delivery.check : null;
  const writing = deliveries.data?.find(isGoing);
  const fit = delivery?.fit ?? null;
  const number = delivery?.number ?? null;
  useShown(delivery, fit);

  const tried = async (work: () => Promise<unknown>) => {
    try {
      await work();
    } catch (error) {
      tell(sentence(error));
    }
  };
  const check = (typed: Typed | null = null) => tried(async () => number !== null && jobs.fit(number, typed));
  const again = () =>
    tried(async () => {
      await settled();
      await jobs.deliver(delivery?.only.length ? delivery.only : null, true);
      setPicked(null);
    });
  const takeIn = (finding: Finding) =>
    tried(async () => {
      const steps = (finding.steps ?? []).map(({ kind, ...numbers }) => newStep(kinds, String(kind), numbers));
      if (await edit(steps.map((step) => ({ op: "add_step" as const, step })))) await again();
    });
  const busy = checking !== null || writing !== undefined;
  return (
    <Card
      title="Fit check"
      action={
        <Button
          variant="contained"
          disabled={number === null || busy}
          onClick={() => void check(fit?.typed_in ?? null)}
        >
          {fit ? "Check again" : "Check the fit"}
        </Button>
      }
      sub={
        delivery ? (
          <>
            <ChoiceToken
              label="Which delivery"
              value={String(number)}
              choices={done.map((item) => ({ value: String(item.number), label: `delivery ${item.number}` }))}
              onChange={(value) => setPicked(Number(value))}
            />
            {fit && ` · ${fit.files} ${fit.files === 1 ? "file" : "files"} read back`}
            {fit?.target && ` as ${fit.target} reads them`}
          </>
        ) : undefined
      }
      foot={
        <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
          <Typography variant="caption" color="textSecondary" sx={{ flex: 1 }}>
            <b>Something from elsewhere?</b> Any map with this height: we find how they line up.
          </Typography>
          <Button size="small" variant="outlined" color="inherit" onClick={() => setForeign(true)}>
            Line up a map…
          </Button>
        </Box>
      }
    >
      {!delivery && (
        <Typography color="textSecondary" sx={{ mt: 1 }}>
          {writing
            ? "A delivery is being written. When it is there, its files can be read back here."
            : "There is nothing to read back yet. Deliver first: then the files are read from disk as the target would read them, and compared with the project."}
        </Typography>
      )}
      {writing && delivery && (
        <Going label="Writing files anew" message={writing.job.message} share={writing.job.progress} />
      )}
      {checking && <Going label="Reading the files back" message={checking.message} share={checking.progress} />}
      {failed && (
        <Alert severity="error" sx={{ my: 1 }}>
          The newest check came to no end. {failed.message}
          {fit && " What follows is what the one before it found."}
        </Alert>
      )}
      {delivery && !fit && !busy && (
        <Typography color="textSecondary" sx={{ mt: 1 }}>
          Not checked yet. The check reads all files back from disk, knowing only the import note, and rebuilds height,
          weights and colour from them.
        </Typography>
      )}
      {delivery && fit && (
        <Result fit={fit} delivery={delivery} busy={busy} onAgain={() => void again()} onTakeIn={(f) => void takeIn(f)}>
          <Heading>What I typed</Heading>
          <TypedInset number={delivery.number} fit={fit} busy={busy} onCheck={(typed) => void check(typed)} />
        </Result>
      )}
      {foreign && (
        <ForeignDialog
          onClose={() => setForeign(false)}
          onLaid={(reading) => {
            setForeign(false);
            void go(`/project/${id}/readings?reading=${encodeURIComponent(reading)}`);
          }}
        />
      )}
    </Card>
  );
}

/** What is looked at: the map of the first finding, else the height; a map that was chosen stays chosen. */
function useShown(delivery: Delivery | null, fit: Fit | null) {
  const { subject, show } = useViewParts("subject", "show");
  const put = useEffectEvent(() => {
    mapStore.forgetFits();
    const maps = fit?.maps ?? [];
    const wrong = fit?.findings.map((finding) => mapOf(fit, finding)).find((map) => map?.shown);
    const kept = subject.kind === "fit" ? maps.find((map) => map.title === subject.title && map.shown) : undefined;
    const style = subject.kind === "fit" ? subject.style : "difference";
    const map = wrong ?? kept ?? maps.find((item) => item.shown);
    const next = delivery && map ? fitSubject(delivery, map, style) : null;
    show(next ?? { kind: "ground", style: "heights" });
  });
  useEffect(() => put(), [delivery?.number, delivery?.fit_at]);
}

function Going({ label, message, share }: { label: string; message: string; share: number }) {
  return (
    <Box sx={{ my: 1 }}>
      <LinearProgress aria-label={label} variant={share > 0 ? "determinate" : "indeterminate"} value={share * 100} />
      <Typography variant="caption" color="textSecondary">
        {message}
      </Typography>
    </Box>
  );
}

interface ResultProps {
  fit: Fit;
  delivery: Delivery;
  busy: boolean;
  onAgain: () => void;
  onTakeIn: (finding: Finding) => void;
  children: React.ReactNode;
}

function Result({ fit, delivery, busy, onAgain, onTakeIn, children }: ResultProps) {
  const { id } = useProject();
  const outdated = outdatedFiles(delivery, useProject());
  const [title, words] = verdict(fit);
  const report = `/api/projects/${id}/deliveries/${delivery.number}/fit/report`;
  return (
    <>
      <Box
        role="status"
        data-testid="verdict"
        sx={{ borderRadius: 1.5, px: 1.5, py: 1.2, my: 1, bgcolor: fit.fits ? roles.mossWash : roles.amberWash }}
      >
        <Typography variant="h3" color={fit.fits ? "primary" : "warning"}>
          {title}
        </Typography>
        <Typography variant="body2">{words}</Typography>
      </Box>
      {outdated.length > 0 && (
        <Typography variant="body2" color="warning" sx={{ fontWeight: 600, mb: 1 }}>
          ! The project has changed since this delivery: {outdated.join(", ")}
        </Typography>
      )}
      {fit.findings.map((item) => (
        <FindingInset
          key={item.kind + item.file + item.message}
          finding={item}
          fit={fit}
          delivery={delivery}
          busy={busy}
          onAgain={onAgain}
          onTakeIn={onTakeIn}
        />
      ))}
      <Heading aside="choose one to look at it">Maps</Heading>
      <MapsList fit={fit} delivery={delivery} />
      <Heading>Measured</Heading>
      <FactsTable fit={fit} />
      <Heading>Read these off in the real thing</Heading>
      <Box sx={{ fontSize: 12.5 }}>
        {fit.check_points.map((point) => (
          <Box key={point.title} sx={{ display: "flex", justifyContent: "space-between", gap: 1, py: 0.2 }}>
            <span>
              {point.title}
              <Box component="span" sx={{ color: "text.secondary" }}>
                , {trim(point.east)} m east, {trim(point.north)} m north
                {point.strongest && `, ${point.strongest}`}
              </Box>
            </span>
            <Box component="span" sx={{ fontFamily: MONO, whiteSpace: "nowrap" }}>
              {point.height.toFixed(2)} m
            </Box>
          </Box>
        ))}
      </Box>
      {children}
      <Typography variant="body2" sx={{ mt: 1.2 }}>
        <Link href={`${report}.html`} target="_blank" rel="noreferrer">
          As a page to print or send
        </Link>
        {" · "}
        <Link href={`${report}.json`} target="_blank" rel="noreferrer">
          as JSON
        </Link>
      </Typography>
    </>
  );
}
