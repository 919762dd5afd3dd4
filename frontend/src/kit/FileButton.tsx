import { Button } from "@mui/material";
import { useRef, type ReactNode } from "react";

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
        accept={accept}
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
