import { Box, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { roles } from "./theme";

interface CardProps {
  title: string;
  action?: ReactNode;
  sub?: ReactNode;
  foot?: ReactNode;
  children: ReactNode;
}

/** The card of a waypoint: heading, what can be done, and where it goes at the foot. */
export function Card({ title, action, sub, foot, children }: CardProps) {
  return (
    <Box
      component="section"
      aria-label={title}
      sx={{
        bgcolor: "background.paper",
        borderLeft: 1,
        borderColor: "divider",
        display: "flex",
        flexDirection: "column",
        minHeight: 0,
      }}
    >
      <Box
        sx={{
          px: 2,
          pt: 1.5,
          pb: 0.5,
          display: "flex",
          alignItems: "center",
          justifyContent: "space-between",
          gap: 1,
          minHeight: 48,
        }}
      >
        <Typography variant="h2">{title}</Typography>
        {action}
      </Box>
      {sub && (
        <Typography variant="caption" color="textSecondary" sx={{ px: 2, pb: 1 }}>
          {sub}
        </Typography>
      )}
      <Box sx={{ flex: 1, overflowY: "auto", px: 2, pb: 2, minHeight: 0 }}>{children}</Box>
      {foot && (
        <Box sx={{ borderTop: 1, borderColor: "divider", bgcolor: "background.default", px: 2, py: 1.3 }}>{foot}</Box>
      )}
    </Box>
  );
}

export function Heading({ children, aside }: { children: ReactNode; aside?: ReactNode }) {
  return (
    <Box sx={{ display: "flex", alignItems: "baseline", justifyContent: "space-between", mt: 1.5, mb: 0.8 }}>
      <Typography variant="h3">{children}</Typography>
      {aside && (
        <Typography variant="caption" color="textSecondary">
          {aside}
        </Typography>
      )}
    </Box>
  );
}

/** A bordered inset of a card. */
export function Inset({
  children,
  chosen = false,
  ...rest
}: { children: ReactNode; chosen?: boolean } & React.ComponentProps<typeof Box>) {
  return (
    <Box
      {...rest}
      sx={{
        border: chosen ? `2px solid ${roles.gentian}` : `1px solid ${roles.rule}`,
        borderRadius: 1.3,
        p: chosen ? "9px" : "10px",
        mb: 1,
      }}
    >
      {children}
    </Box>
  );
}

export function WhereItGoes({ steps }: { steps: string[] }) {
  return (
    <>
      <Typography variant="body2" sx={{ fontWeight: 700, mb: 0.8 }}>
        Where it goes
      </Typography>
      <Box sx={{ display: "flex", alignItems: "center", gap: 0.6, flexWrap: "wrap" }}>
        {steps.map((step, i) => (
          <Box key={step} sx={{ display: "contents" }}>
            {i > 0 && <span aria-hidden>→</span>}
            <Box
              component="span"
              sx={{
                border: 1,
                borderColor: "divider",
                borderRadius: 1,
                px: 0.9,
                py: 0.3,
                fontSize: 12,
                bgcolor: "background.paper",
                whiteSpace: "nowrap",
              }}
            >
              {step}
            </Box>
          </Box>
        ))}
      </Box>
    </>
  );
}
