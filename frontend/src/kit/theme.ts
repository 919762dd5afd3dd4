import "@fontsource-variable/hanken-grotesk";
import "@fontsource-variable/schibsted-grotesk";
import "@fontsource-variable/sometype-mono";
import { createTheme } from "@mui/material/styles";

export const HEADING = '"Schibsted Grotesk Variable", "Hanken Grotesk Variable", sans-serif';
export const TEXT = '"Hanken Grotesk Variable", system-ui, sans-serif';
export const MONO = '"Sometype Mono Variable", ui-monospace, monospace';

/** Neutral grey around maps, the same in both schemes, so that colours can be judged. */
export const SURROUND = "#6f7371";

/** What is drawn over maps is the same in both schemes too: maps are neither light nor dark with the page. */
export const onMap = {
  light: "#fffdf7",
  dark: "#24302b",
  veil: "rgb(36 48 43 / 0.88)",
  shadow: "rgb(36 48 43 / 0.5)",
  gleam: "rgb(255 253 247 / 0.12)",
  chosen: "#4b3fa3",
  brush: "#b3a8f5",
  inside: "#3d6a4b",
  outside: "#a63a2b",
  ground: "#8f9a83",
  groundLine: "#5c665f",
} as const;

/** Lines and areas by what they are. */
export const DRAWN = {
  path: "#e9c46a",
  road: "#d7d2c8",
  wall: "#f1eee4",
  bank: "#c58b5c",
  clearing: "#9cc28a",
} as const;

interface Tint {
  value: string;
  label: string;
}

/** Colours in which a mask can be laid over the ground. */
export const TINTS: [Tint, ...Tint[]] = [
  { value: "#4b3fa3", label: "Gentian" },
  { value: "#a63a2b", label: "Rowan" },
  { value: "#d67814", label: "Amber" },
  { value: "#2c7a4b", label: "Moss" },
];

/** What is scattered, where it has no colour of its own. */
export const SCATTERED = "#b5541c";

/** Colours of new layers, in turn. */
export const LAYER_COLOURS: [string, ...string[]] = [
  "#8a8c86",
  "#5a4733",
  "#7d5f78",
  "#4f7c76",
  "#b49a63",
  "#6c7f4a",
  "#a3705a",
  "#566b88",
];

interface Roles {
  paper: string;
  card: string;
  ink: string;
  muted: string;
  rule: string;
  moss: string;
  mossDark: string;
  gentian: string;
  gentianWash: string;
  mossWash: string;
  bar: string;
  amber: string;
  amberWash: string;
  rowan: string;
}

const day: Roles = {
  paper: "#f4f1e8",
  card: "#fffdf7",
  ink: "#24302b",
  muted: "#5c665f",
  rule: "#d9d4c5",
  moss: "#3d6a4b",
  mossDark: "#2f543a",
  gentian: "#4b3fa3",
  gentianWash: "#e4e1f5",
  mossWash: "#dfe7da",
  bar: "#8f9a83",
  amber: "#96590b",
  amberWash: "#f7e7cb",
  rowan: "#a63a2b",
};

const dusk: Roles = {
  paper: "#1d2421",
  card: "#262e2a",
  ink: "#ece8db",
  muted: "#a9b1a8",
  rule: "#3d4742",
  moss: "#8fc29d",
  mossDark: "#a8d3b4",
  gentian: "#b3a8f5",
  gentianWash: "#3a3560",
  mossWash: "#35453a",
  bar: "#717d6c",
  amber: "#e8b468",
  amberWash: "#4a3a1c",
  rowan: "#f09a8a",
};

declare module "@mui/material/styles" {
  interface Palette {
    roles: Roles;
  }
  interface PaletteOptions {
    roles?: Roles;
  }
}

function palette(r: Roles) {
  return {
    primary: { main: r.moss, dark: r.mossDark, contrastText: r.card },
    secondary: { main: r.gentian, contrastText: r.card },
    warning: { main: r.amber },
    error: { main: r.rowan },
    info: { main: r.gentian },
    background: { default: r.paper, paper: r.card },
    text: { primary: r.ink, secondary: r.muted },
    divider: r.rule,
    roles: r,
  };
}

/** The roles as style values that follow the scheme. */
export const roles = Object.fromEntries(
  Object.keys(day).map((role) => [role, `var(--mui-palette-roles-${role})`]),
) as unknown as Roles;

/** Where the keyboard is: two pixels that stand out from paper, cards and maps alike. */
export const ring = {
  outline: `2px solid ${roles.gentian}`,
  outlineOffset: 2,
  boxShadow: `0 0 0 2px ${roles.card}`,
} as const;
/** The same inside what is cut off at its own border. */
export const innerRing = { outline: `2px solid ${roles.gentian}`, outlineOffset: -2 } as const;

/** Who asks for little motion waits for none either: menus and dialogs are there, and gone, at once. */
const still = typeof matchMedia === "function" && matchMedia("(prefers-reduced-motion: reduce)").matches;
const NO_TIME = {
  shortest: 0,
  shorter: 0,
  short: 0,
  standard: 0,
  complex: 0,
  enteringScreen: 0,
  leavingScreen: 0,
};

export const theme = createTheme({
  ...(still ? { transitions: { duration: NO_TIME, getAutoHeightDuration: () => 0 } } : {}),
  cssVariables: { colorSchemeSelector: "data-scheme" },
  colorSchemes: { light: { palette: palette(day) }, dark: { palette: palette(dusk) } },
  shape: { borderRadius: 9 },
  typography: {
    fontFamily: TEXT,
    fontSize: 13,
    h1: { fontFamily: HEADING, fontSize: 30, fontWeight: 700, letterSpacing: -0.4 },
    h2: { fontFamily: HEADING, fontSize: 19, fontWeight: 700 },
    h3: { fontFamily: HEADING, fontSize: 15, fontWeight: 650 },
    body1: { fontSize: 14 },
    body2: { fontSize: 13, lineHeight: 1.4 },
    caption: { fontSize: 12, lineHeight: 1.35 },
    button: { textTransform: "none", fontWeight: 600, fontSize: 13 },
  },
  components: {
    // No stronger than what a part says of its own ring.
    MuiCssBaseline: {
      styleOverrides: { ":where(a, canvas, [tabindex]:not([tabindex='-1'])):focus-visible": ring },
    },
    MuiButtonBase: {
      defaultProps: { disableRipple: true },
      styleOverrides: { root: { "&.Mui-focusVisible, &:focus-visible": ring } },
    },
    MuiMenuItem: { styleOverrides: { root: { "&.Mui-focusVisible, &:focus-visible": innerRing } } },
    MuiTab: { styleOverrides: { root: { "&.Mui-focusVisible, &:focus-visible": innerRing } } },
    MuiSlider: { styleOverrides: { thumb: { "&.Mui-focusVisible": ring } } },
    MuiButton: {
      defaultProps: { disableElevation: true, size: "small" },
      styleOverrides: {
        root: { borderRadius: 16, paddingInline: 13, minHeight: 30, whiteSpace: "nowrap" },
        contained: { borderRadius: 9 },
      },
    },
    MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: "none" } } },
    MuiDialogTitle: { styleOverrides: { root: { fontFamily: HEADING, fontSize: 19, fontWeight: 700 } } },
    MuiDialog: {
      defaultProps: { slotProps: { paper: { elevation: 0 } } },
      styleOverrides: { paper: { border: `1px solid ${roles.rule}` } },
    },
    MuiMenu: {
      defaultProps: { elevation: 0 },
      styleOverrides: { paper: { border: `1px solid ${roles.rule}` } },
    },
    MuiTooltip: {
      defaultProps: { enterDelay: 500, describeChild: true },
      styleOverrides: {
        tooltip: {
          background: roles.ink,
          color: roles.card,
          fontSize: 12,
        },
      },
    },
    MuiPopover: { defaultProps: { elevation: 0 } },
    MuiTextField: { defaultProps: { size: "small" } },
    MuiSelect: { defaultProps: { size: "small" } },
  },
});
