import { Box, Button, LinearProgress, Typography } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { ask, client, sentence } from "../api/client";
import { useWorking } from "../document/queries";
import { useProject } from "../document/document";

interface LongAsk {
  busy: boolean;
  trouble: string | null;
  /** Ask for something that may take long; a newer one, stopping it or leaving ends the one before it. Resolves to
   * nothing when it was stopped, or went wrong. */
  run: <T>(work: (signal: AbortSignal) => Promise<T>) => Promise<T | undefined>;
  stop: () => void;
}

/** Something that may take long and is asked for by a dialog: it ends with the dialog, here and on the server. */
export function useLongAsk(): LongAsk {
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const running = useRef<AbortController | null>(null);
  const stop = () => {
    running.current?.abort();
    running.current = null;
    setBusy(false);
  };
  useEffect(() => () => running.current?.abort(), []);
  return {
    busy,
    trouble,
    stop,
    run: async (work) => {
      running.current?.abort();
      const mine = (running.current = new AbortController());
      setBusy(true);
      setTrouble(null);
      try {
        const made = await work(mine.signal);
        return mine.signal.aborted ? undefined : made;
      } catch (error) {
        if (!mine.signal.aborted) setTrouble(sentence(error));
        return undefined;
      } finally {
        if (running.current === mine) {
          running.current = null;
          setBusy(false);
        }
      }
    },
  };
}

/** What is on the way: how far it is and how long it takes, or who is before it; and a way to stop it. */
export function LongAskShown({ busy, says, onStop }: { busy: boolean; says: string; onStop: () => void }) {
  const { id } = useProject();
  const task = useWorking(busy).data?.[0];
  if (!busy) return null;
  const left = task?.seconds_left;
  const stop = () => {
    const path = { project_id: id, key: task?.key ?? "" };
    if (task)
      void ask(client.POST("/api/projects/{project_id}/working/{key}/stop", { params: { path } })).catch(
        () => undefined,
      );
    onStop();
  };
  return (
    <Box role="status" sx={{ mt: 1.5, display: "flex", alignItems: "center", gap: 1.5 }}>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <LinearProgress
          aria-label={task?.title ?? says}
          {...(task && task.share > 0 ? { variant: "determinate", value: task.share * 100 } : {})}
        />
        <Typography variant="caption" color="textSecondary">
          {task?.title ?? says}
          {typeof left === "number" && left > 1 && ` · ${Math.ceil(left)} s left`}
        </Typography>
      </Box>
      <Button size="small" color="inherit" variant="outlined" onClick={stop}>
        Stop
      </Button>
    </Box>
  );
}
