import { Alert, Box, Button, Menu, MenuItem, Typography } from "@mui/material";
import { memo, useState } from "react";
import { useAskAgain } from "../../document/askAgain";
import { ask, client, sentence } from "../../api/client";
import { useFolderFiles, useWatch } from "../../document/queries";
import { useProject } from "../../document/document";
import { useReplacing } from "../../document/replacing";

/** The heightmap's file on this machine: what is watched, and whether it changed. */
export function WatchInset() {
  const { id } = useProject();
  const watch = useWatch();
  const again = useAskAgain();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const files = useFolderFiles(anchor !== null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const told = watch.data;
  if (!told?.allowed) return null;
  const path = { project_id: id };
  const run = async (work: () => Promise<unknown>) => {
    setTrouble(null);
    try {
      await work();
    } catch (error) {
      setTrouble(sentence(error));
    }
    await again("/api/projects/{project_id}/watch");
  };
  const start = (folder: number, name: string) => {
    setAnchor(null);
    void run(() => ask(client.POST("/api/projects/{project_id}/watch", { params: { path }, body: { folder, name } })));
  };
  return (
    <Box sx={{ mt: 1, fontSize: 13 }}>
      {told.file ? (
        <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
          <Typography variant="body2" sx={{ flex: 1 }}>
            Watching <b>{told.file.name}</b>
            {told.state === "gone"
              ? ": it is not there any more."
              : told.state === "writing"
                ? ": being written…"
                : "."}
          </Typography>
          <Button
            size="small"
            color="inherit"
            onClick={() => void run(() => ask(client.DELETE("/api/projects/{project_id}/watch", { params: { path } })))}
          >
            Watch no more
          </Button>
        </Box>
      ) : (
        <Button
          size="small"
          color="inherit"
          variant="outlined"
          aria-haspopup="menu"
          onClick={(event) => setAnchor(event.currentTarget)}
        >
          Watch its file on this machine…
        </Button>
      )}
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {files.error && <MenuItem onClick={() => void files.refetch()}>{sentence(files.error)} Ask again…</MenuItem>}
        {files.isPending && <MenuItem disabled>Files are coming…</MenuItem>}
        {files.data?.length === 0 && (
          <MenuItem disabled>There are no files in the folders that may be looked into.</MenuItem>
        )}
        {(files.data ?? []).slice(0, 60).map((file) => (
          <MenuItem key={`${file.folder}/${file.name}`} dense onClick={() => start(file.folder, file.name)}>
            {file.name}
          </MenuItem>
        ))}
      </Menu>
      {trouble && (
        <Alert severity="error" sx={{ mt: 1 }}>
          {trouble}
        </Alert>
      )}
    </Box>
  );
}

/** Over the view, wherever the artist is: the watched file changed, and what can be done about it. */
export const WatchNotice = memo(function WatchNotice() {
  const { id } = useProject();
  const watch = useWatch();
  const again = useAskAgain();
  const begin = useReplacing((store) => store.begin);
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const file = watch.data?.file;
  if (!file || watch.data?.state !== "changed") return null;
  const look = async () => {
    setBusy(true);
    setTrouble(null);
    try {
      begin({ kind: "watched", found: await ask(client.POST("/api/folder-files/look", { body: file })) });
    } catch (error) {
      setTrouble(sentence(error));
    } finally {
      setBusy(false);
    }
  };
  const leave = async () => {
    await client.POST("/api/projects/{project_id}/watch/seen", { params: { path: { project_id: id } } });
    await again("/api/projects/{project_id}/watch");
  };
  return (
    <Alert
      severity="info"
      sx={{
        position: "absolute",
        left: "50%",
        top: 48,
        transform: "translateX(-50%)",
        width: "max-content",
        maxWidth: "96%",
        zIndex: 3,
        py: 0,
      }}
      action={
        <>
          <Button size="small" color="inherit" disabled={busy} onClick={() => void look()}>
            Look at what changed
          </Button>
          <Button size="small" color="inherit" onClick={() => void leave()}>
            Leave it
          </Button>
        </>
      }
    >
      {trouble ?? (
        <>
          <b>{file.name}</b> changed on this machine.
        </>
      )}
    </Alert>
  );
});
