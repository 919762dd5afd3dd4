import { Alert, Button, Typography } from "@mui/material";
import type { UseQueryResult } from "@tanstack/react-query";
import { sentence } from "../api/client";

/** What stands where an answer has not come yet: that it is on its way, or why it cannot be had and how to ask again. */
export function Coming({ asked, what }: { asked: UseQueryResult; what: string }) {
  if (asked.error)
    return (
      <Alert
        severity="error"
        sx={{ mt: 1 }}
        action={
          <Button size="small" color="inherit" disabled={asked.isFetching} onClick={() => void asked.refetch()}>
            Ask again
          </Button>
        }
      >
        {sentence(asked.error)}
      </Alert>
    );
  if (asked.data !== undefined) return null;
  return (
    <Typography role="status" variant="body2" color="textSecondary" sx={{ mt: 1 }}>
      {what}
    </Typography>
  );
}
