import { Alert, Box, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { ask, client, sentence, type Schemas } from "../../api/client";
import type { Target } from "../../api/types";
import { useProject } from "../../document/document";
import { Heading } from "../../kit/Card";
import { MONO } from "../../kit/theme";

type Checked = Schemas["CheckOut"];

/** What the rules would make of this project, asked anew when they rest; an older answer is let go. */
export function useChecked(rules: Target["rules"]): Checked | null {
  const { id } = useProject();
  const [checked, setChecked] = useState<Checked | null>(null);
  const text = JSON.stringify(rules);
  useEffect(() => {
    const stop = new AbortController();
    const timer = setTimeout(() => {
      ask(
        client.POST("/api/projects/{project_id}/targets/check", {
          params: { path: { project_id: id } },
          body: JSON.parse(text) as Record<string, never>,
          signal: stop.signal,
        }),
      )
        .then(setChecked)
        .catch((error: unknown) => {
          if (!stop.signal.aborted)
            setChecked({ trouble: sentence(error), rules: null, sizes: [], names: [], numbers: [], sentences: [] });
        });
    }, 250);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [id, text]);
  return checked;
}

export function Example({ checked }: { checked: Checked | null }) {
  if (!checked) return <Typography color="textSecondary">Looking at it…</Typography>;
  return (
    <Box role="status" aria-label="What it makes of this project" sx={{ fontSize: 12.5 }}>
      {checked.trouble && !checked.rules && <Alert severity="error">{checked.trouble}</Alert>}
      {checked.rules && <Alert severity="success">It holds together.</Alert>}
      {checked.trouble && checked.rules && <Alert severity="warning">For this project: {checked.trouble}</Alert>}
      {checked.sizes.length > 0 && <Heading>Sizes near by</Heading>}
      {checked.sizes.map((text) => (
        <div key={text}>{text}</div>
      ))}
      {checked.names.length > 0 && <Heading>Files</Heading>}
      {checked.names.map((text) => (
        <Box key={text} sx={{ fontFamily: MONO, overflowWrap: "anywhere" }}>
          {text}
        </Box>
      ))}
      {checked.numbers.length > 0 && <Heading>On the note</Heading>}
      {checked.numbers.map(({ title, value }) => (
        <Box key={title} sx={{ display: "flex", justifyContent: "space-between", gap: 1 }}>
          <span>{title}</span>
          <Box component="span" sx={{ fontFamily: MONO, textAlign: "right" }}>
            {value}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
