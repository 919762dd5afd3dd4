import { Button } from "@mui/material";
import type { ReactNode } from "react";

interface FileButtonProps {
  children: ReactNode;
  /** How tests and labels find it. */
  id: string;
  accept?: string;
  multiple?: boolean;
  size?: "small" | "medium";
  plain?: boolean;
  onFiles: (files: File[]) => void;
}

/** A button that asks for files; the same file can be chosen again. */
export function FileButton({ children, id, accept, multiple, size = "small", plain, onFiles }: FileButtonProps) {
  return (
    <Button component="label" size={size} variant={plain ? "text" : "outlined"} color="inherit">
      {children}
      <input
        type="file"
        data-testid={id}
        accept={accept}
        multiple={multiple ?? false}
        style={{ position: "absolute", opacity: 0, width: 1, height: 1 }}
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          event.target.value = "";
          if (files.length > 0) onFiles(files);
        }}
      />
    </Button>
  );
}
