import { readName } from "../../api/mapNames";
import { Box, Typography } from "@mui/material";
import type { Plan } from "../../api/types";
import { SourcePicker } from "../../viewport/SourcePicker";
import { useDocument, useProject } from "../../document/document";
import { subjectOf } from "./itemSubject";

/** Anything else of the project that can go out as a file of its own. */
export function AddFile({ plan }: { plan: Plan }) {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const add = (of: string) => {
    const found = plan.others.find((item) => item.of === of);
    if (found) void edit([{ op: "set_items", items: [{ ...found.choice, deliver: true }] }]);
  };
  return (
    <Box sx={{ my: 1 }}>
      <Typography component="span" variant="body2">
        Also deliver{" "}
      </Typography>
      <SourcePicker
        label="Another map"
        value=""
        text="another map…"
        choices={plan.others.map((item) => ({
          value: item.of,
          label: item.title,
          group: item.group,
          ...(readName(item.of)?.kind === "look" ? {} : { subject: subjectOf(item.of, document) }),
        }))}
        onChange={add}
      />
    </Box>
  );
}
