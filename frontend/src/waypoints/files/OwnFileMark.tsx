import { Tooltip } from "@mui/material";
import FileIcon from "@mui/icons-material/InsertDriveFileOutlined";
import { useState } from "react";
import { TokenButton } from "../../kit/ChoiceToken";
import { NameDialog } from "../../kit/NameDialog";
import { useOwnFile } from "./useOwnFile";

/** Marks a map that goes out as a file of its own. */
export function OwnFileMark({ of }: { of: string }) {
  const { goes } = useOwnFile(of);
  if (!goes) return null;
  return (
    <Tooltip title="Goes out as a file of its own">
      <FileIcon aria-label="Goes out as a file of its own" sx={{ fontSize: 15, ml: 0.4, verticalAlign: "-2px" }} />
    </Tooltip>
  );
}

/** The name of that file, as a token; nothing where there is none. */
export function OwnFileToken({ of, title }: { of: string; title: string }) {
  const { goes, file, set } = useOwnFile(of);
  const [naming, setNaming] = useState(false);
  if (!goes) return null;
  return (
    <>
      Goes out by itself as{" "}
      <TokenButton label={`File of ${title}`} text={file ?? "the pattern names it"} onOpen={() => setNaming(true)} />
      <NameDialog
        open={naming}
        title={`File of ${title}`}
        suggestion={file ?? title.toLowerCase().replace(/[^a-z0-9]+/g, "_")}
        action="Name it"
        onClose={() => setNaming(false)}
        onName={(name) => void set({ file: name.replace(/[^A-Za-z0-9_-]+/g, "_") })}
      />
    </>
  );
}
