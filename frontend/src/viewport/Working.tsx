import { Box, Button, LinearProgress } from "@mui/material";
import { ask, client } from "../api/client";
import { useWorking } from "../document/queries";
import { useProject } from "../document/document";

/** Long computations that the view waits for: how far they are, how long they take, and a way to stop them; and what is
 * to be known of how they were made. */
export function Working({ waiting, draft, coarser }: { waiting: boolean; draft: boolean; coarser: string | null }) {
  const { id } = useProject();
  const tasks = useWorking(waiting);
  const task = waiting ? tasks.data?.[0] : undefined;
  if (!task && !draft && !coarser) return null;
  const left = task?.seconds_left;
  const stop = () =>
    void ask(
      client.POST("/api/projects/{project_id}/working/{key}/stop", {
        params: { path: { project_id: id, key: task?.key ?? "" } },
      }),
    ).catch(() => undefined);
  return (
    <Box
      role="status"
      data-testid="working"
      sx={{
        position: "absolute",
        top: 10,
        right: 56,
        width: 250,
        bgcolor: "background.paper",
        borderRadius: 1.5,
        px: 1.4,
        py: 0.8,
        fontSize: 12.5,
      }}
    >
      <Box sx={{ display: "flex", alignItems: "center", justifyContent: "space-between", gap: 1 }}>
        <span>
          {task?.title ?? (draft ? "Computing" : "Coarser than the ground")}
          {typeof left === "number" && left > 1 && ` · ${Math.ceil(left)} s left`}
          {task && task.bytes > 2.5e8 && ` · up to ${(task.bytes / 1e9).toFixed(1)} GB memory`}
        </span>
        {task && (
          <Button size="small" color="inherit" onClick={stop}>
            Stop
          </Button>
        )}
      </Box>
      {task && (
        <LinearProgress
          color="secondary"
          aria-label={task.title}
          {...(task.share > 0 ? { variant: "determinate", value: task.share * 100 } : {})}
          sx={{ mt: 0.4 }}
        />
      )}
      {coarser && (
        <Box sx={{ color: "text.secondary", mt: 0.5 }}>
          What is worked out on the whole ground is made on {coarser} samples.
        </Box>
      )}
      {draft && <Box sx={{ color: "text.secondary", mt: 0.5 }}>A rough first picture; the real one follows.</Box>}
    </Box>
  );
}
