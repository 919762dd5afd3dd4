import { IconButton, Menu, MenuItem, Typography } from "@mui/material";
import MoreVertIcon from "@mui/icons-material/MoreVert";
import { useState } from "react";

export interface MenuAction {
  label: string;
  /** What it does; or where it leads, for a download. */
  act: (() => void) | { href: string };
  off?: boolean;
  danger?: boolean;
}

/** Three dots that open what else can be done with a thing. */
export function MoreMenu({ label, actions }: { label: string; actions: MenuAction[] }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const close = () => setAnchor(null);
  return (
    <>
      <IconButton
        size="small"
        aria-label={label}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        <MoreVertIcon sx={{ fontSize: 18 }} />
      </IconButton>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={close} slotProps={{ list: { dense: true } }}>
        {actions.map(({ label: text, act, off = false, danger = false }) => (
          <MenuItem
            key={text}
            disabled={off}
            {...(typeof act === "object" ? { component: "a", href: act.href, download: true } : {})}
            onClick={() => {
              close();
              if (typeof act === "function") act();
            }}
          >
            <Typography variant="body2" {...(danger ? { color: "error" } : {})}>
              {text}
            </Typography>
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
