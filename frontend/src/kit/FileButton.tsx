import { Button } from "@mui/material";
import { useRef, type ReactNode } from "react";
import { useEndings, type FileUse } from "../document/formats";

interface FileButtonProps {
  children: ReactNode;
  /** How tests and labels find it. */
  id: string;
  /** What the files are for: only such are offered. None: any. */
  what?: FileUse;
  multiple?: boolean;
  size?: "small" | "medium";
  plain?: boolean;
  onFiles: (files: File[]) => void;
}

/** A button that asks for files; the same file can be chosen again. */
export function FileButton({ children, id, what, multiple, size = "small", plain, onFiles }: FileButtonProps) {
  const endings = useEndings(what);
  const field = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button size={size} variant={plain ? "text" : "outlined"} color="inherit" onClick={() => field.current?.click()}>
        {children}
      </Button>
      <input
        ref={field}
        type="file"
        data-testid={id}
        accept={endings.join(",")}
        multiple={multiple ?? false}
        hidden
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          event.target.value = "";
          if (files.length > 0) onFiles(files);
        }}
      />
    </>
  );
}
