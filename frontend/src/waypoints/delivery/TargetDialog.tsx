import { Alert, Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Link } from "@mui/material";
import { useState } from "react";
import { ask, client, sentence } from "../../api/client";
import { useTargetChange, useTargets } from "../../document/queries";
import type { Target } from "../../api/types";
import { Coming } from "../../kit/Coming";
import { FileButton } from "../../kit/FileButton";
import { useDocument, useProject } from "../../document/document";
import { roles } from "../../kit/theme";
import { AboutTarget, TargetList } from "./TargetList";
import { TargetEditor } from "./TargetEditor";

/** Where the files go: built-in targets and the project's own, and what choosing one changes. */
export function TargetDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="md">
      {open && <Targets onClose={onClose} />}
    </Dialog>
  );
}

type Rules = Target["rules"];

/** A copy under an id and a title that are free. */
function copied(rules: Rules, all: Target[]): Rules {
  for (let k = 2; ; k++) {
    const id = `${rules.id.slice(0, 34)}-${k}`;
    const title = `${rules.title.slice(0, 54)} ${k}`;
    if (!all.some((item) => item.id === id || item.title.toLowerCase() === title.toLowerCase()))
      return { ...rules, id, title };
  }
}

function Targets({ onClose }: { onClose: () => void }) {
  const { id, document } = useProject();
  const edit = useDocument((store) => store.edit);
  const targets = useTargets();
  const all = targets.data ?? [];
  const now = document.delivery.target;
  const [picked, setPicked] = useState(now);
  const [editing, setEditing] = useState<Rules | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const shown = all.find((item) => item.id === picked) ?? all[0];
  const change = useTargetChange(shown && shown.id !== now ? shown.id : null);
  const choose = async () => {
    if (shown && (await edit([{ op: "choose_target", target: shown.id }]))) onClose();
  };
  const bring = async (file: File) => {
    setTrouble(null);
    let told: unknown;
    try {
      told = JSON.parse(await file.text());
    } catch {
      setTrouble(`${file.name} is no JSON. Save the target out again.`);
      return;
    }
    try {
      // The server fills in what a file leaves out and says what is no target; only then it can be edited.
      const found = await ask(
        client.POST("/api/projects/{project_id}/targets/check", {
          params: { path: { project_id: id } },
          body: told as Record<string, never>,
        }),
      );
      if (!found.rules) setTrouble(found.trouble);
      else setEditing(all.some((item) => item.id === found.rules?.id) ? copied(found.rules, all) : found.rules);
    } catch (error) {
      setTrouble(sentence(error));
    }
  };
  if (editing)
    return (
      <TargetEditor
        rules={editing}
        onClose={() => setEditing(null)}
        onKeep={async (rules) => {
          if (await edit([{ op: "set_target", target: rules }])) {
            setPicked(rules.id);
            setEditing(null);
          }
        }}
      />
    );
  return (
    <>
      <DialogTitle>Where the files go</DialogTitle>
      <DialogContent sx={{ display: "grid", gridTemplateColumns: "230px 1fr", gap: 2, minHeight: 420 }}>
        <Box>
          <TargetList all={all} now={now} shown={shown?.id} onPick={setPicked} />
          <Box sx={{ mt: 1 }}>
            <FileButton
              id="target-file"
              what="target"
              plain
              onFiles={(files) => {
                if (files[0]) void bring(files[0]);
              }}
            >
              Bring in a target…
            </FileButton>
          </Box>
          {trouble && <Alert severity="error">{trouble}</Alert>}
          <Coming asked={targets} what="Targets are coming…" />
        </Box>
        {shown && (
          <Box>
            <AboutTarget target={shown} />
            {shown.id !== now && change.data && (
              <Box sx={{ mt: 2, p: 1.2, borderRadius: 1, bgcolor: roles.amberWash, color: roles.amber, fontSize: 13 }}>
                <b>Choosing it changes</b>
                <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
                  {change.data.sentences.map((text) => (
                    <li key={text}>{text}</li>
                  ))}
                </Box>
              </Box>
            )}
            {shown.id !== now && <Coming asked={change} what="What choosing it changes is coming…" />}
            <Box sx={{ display: "flex", gap: 1, mt: 2, alignItems: "center" }}>
              <Button size="small" color="inherit" onClick={() => setEditing(copied(shown.rules, all))}>
                Copy as an own one…
              </Button>
              {shown.own && (
                <>
                  <Button size="small" color="inherit" onClick={() => setEditing(shown.rules)}>
                    Change…
                  </Button>
                  <Button
                    size="small"
                    color="error"
                    disabled={shown.id === now}
                    onClick={() => {
                      void edit([{ op: "delete_target", target: shown.id }]);
                      setPicked(now);
                    }}
                  >
                    Delete
                  </Button>
                </>
              )}
              <Link href={`/api/projects/${id}/targets/${shown.id}/file`} download sx={{ fontSize: 13 }}>
                Save it out
              </Link>
            </Box>
          </Box>
        )}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onClose}>
          Close
        </Button>
        <Button variant="contained" disabled={!shown || shown.id === now} onClick={() => void choose()}>
          Deliver to {shown?.title ?? "it"}
        </Button>
      </DialogActions>
    </>
  );
}
