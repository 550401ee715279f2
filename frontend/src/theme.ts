import { createTheme } from "@mui/material/styles";
import type {} from "@mui/x-date-pickers/themeAugmentation";

/** Colours that are the same in light and dark: what stands on the deep ground and on amber, and paper in frames. */
const same = {
  bright: "#fff",
  soft: "#c9d6d6",
  deepInk: "#17303a",
  veil: "#ffffff40",
  sheet: "#fff",
  dots: "#a8a193",
  amberDeep: "#d9a640",
};
/** Every colour of the interface, once. Pieces bring their own; these stay quiet beside them. */
const light = {
  paper: "#f7f5f0",
  card: "#fffefb",
  line: "#ded9ce",
  hair: "#ebe7dd",
  ink: "#1d2530",
  mute: "#5c6570",
  faint: "#68645b",
  deep: "#17303a",
  deeper: "#23444e",
  accent: "#0e6b68",
  tint: "#eef4f2",
  amber: "#e7b75b",
  amberTint: "#fcefd2",
  warn: "#8f5508",
  bad: "#a93420",
  badTint: "#faf0ed",
  violet: "#5a3f80",
  violetTint: "#f4f0f9",
  pick: "#fff4dc",
  field: "#fff",
  hatch: "#1d253014",
  empty: "#9aa1a8",
  edge: "#8d9a98",
  ...same,
  stripEdge: "#d9d3c4",
  accentEdge: "#a9c4bf",
  accentSoft: "#8fb5ae",
  badEdge: "#ddb7ae",
  badInk: "#8f2e1c",
  violetEdge: "#c3b5d6",
  plainEdge: "#b8bdc4",
  winTint: "#e2f0ec",
  winInk: "#0b5552",
  loseTint: "#f0ece3",
  loseInk: "#4f5862",
  newInk: "#6d4605",
  lift: "0%",
};
const dark: typeof light = {
  paper: "#14191d",
  card: "#1b2227",
  line: "#333d43",
  hair: "#262e33",
  ink: "#e6e9e6",
  mute: "#a3aeb4",
  faint: "#8b959b",
  deep: "#0d1f26",
  deeper: "#1f3a43",
  accent: "#6cc0b6",
  tint: "#1e312f",
  amber: "#e7b75b",
  amberTint: "#3b3018",
  warn: "#e7b75b",
  bad: "#f09a88",
  badTint: "#38211d",
  violet: "#c8b2ea",
  violetTint: "#2a2337",
  pick: "#332b18",
  field: "#10161a",
  hatch: "#ffffff14",
  empty: "#79838a",
  edge: "#5d6a70",
  ...same,
  stripEdge: "#3c464c",
  accentEdge: "#3d5f5b",
  accentSoft: "#4b7d77",
  badEdge: "#6b4038",
  badInk: "#f0a595",
  violetEdge: "#54486b",
  plainEdge: "#4b555b",
  winTint: "#1e3a36",
  winInk: "#8fd3c9",
  loseTint: "#2c3338",
  loseInk: "#b8c1c6",
  newInk: "#f0cf8c",
  /** How much lighter the colours of pieces are, so that the darkest stand out too. */
  lift: "26%",
};

type Colours = typeof light;

/** `badTint` is `--bad-tint` where styles speak of it. */
const variables = (colours: Colours) =>
  Object.fromEntries(
    Object.entries(colours).map(([name, colour]) => [
      `--${name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)}`,
      colour,
    ]),
  );

const MONO = '"IBM Plex Mono", ui-monospace, monospace';

/** The colours as the styles of our own parts use them, in both schemes. */
export const colourVariables = {
  ":root": { "--mono": MONO, colorScheme: "light", ...variables(light) },
  "@media (prefers-color-scheme: dark)": { ":root": { colorScheme: "dark", ...variables(dark) } },
};

const palette = (colours: Colours) => ({
  primary: { main: colours.accent },
  warning: { main: colours.warn },
  error: { main: colours.bad },
  background: { default: colours.paper, paper: colours.card },
  text: { primary: colours.ink, secondary: colours.mute },
  divider: colours.line,
});

/** Whether the person asks for less motion (Media Queries Level 5): then nothing fades, slides or spreads. */
const STILL = window.matchMedia?.("(prefers-reduced-motion: reduce)").matches ?? false;
const still = STILL ? { defaultProps: { transitionDuration: 0 } } : {};

/** MUI's parts in our look: dense, flat, the words as they are written. */
export const theme = createTheme({
  cssVariables: { colorSchemeSelector: "media" },
  colorSchemes: { light: { palette: palette(light) }, dark: { palette: palette(dark) } },
  typography: {
    fontFamily: '"IBM Plex Sans", system-ui, sans-serif',
    fontSize: 13,
    button: { textTransform: "none", fontWeight: 600 },
  },
  shape: { borderRadius: 5 },
  ...(STILL && { transitions: { create: () => "none" } }),
  components: {
    MuiButtonBase: { defaultProps: { disableRipple: STILL } },
    MuiPopover: still,
    MuiMenu: still,
    MuiDialog: still,
    MuiCollapse: STILL ? { defaultProps: { timeout: 0 } } : {},
    MuiButton: {
      defaultProps: { size: "small", disableElevation: true },
      styleOverrides: { root: { whiteSpace: "nowrap" } },
    },
    MuiTextField: { defaultProps: { size: "small" } },
    MuiOutlinedInput: {
      styleOverrides: {
        root: { fontSize: 13, background: "var(--field)" },
        input: { padding: "6px 9px" },
        multiline: { padding: "6px 9px", "& textarea": { padding: 0 } },
        notchedOutline: { borderColor: "var(--edge)" },
      },
    },
    MuiPickersOutlinedInput: {
      styleOverrides: {
        root: { background: "var(--field)", fontSize: 13 },
        sectionsContainer: { "&&": { padding: "6px 0", fontSize: 13, lineHeight: 1.45 } },
      },
    },
    MuiInputLabel: {
      styleOverrides: {
        root: { fontSize: 13 },
        outlined: { "&:not(.MuiInputLabel-shrink)": { transform: "translate(10px, 6px) scale(1)" } },
      },
    },
    MuiSelect: { defaultProps: { size: "small" } },
    MuiMenuItem: { styleOverrides: { root: { fontSize: 13, minHeight: 0, padding: "4px 10px" } } },
    MuiSwitch: { defaultProps: { size: "small" } },
    MuiCheckbox: {
      defaultProps: { size: "small", disableRipple: true },
      styleOverrides: { root: { padding: 3 } },
    },
    MuiFormControlLabel: {
      styleOverrides: { root: { marginLeft: -3, marginRight: 0 }, label: { fontSize: 13 } },
    },
    MuiChip: {
      defaultProps: { size: "small" },
      styleOverrides: { root: { borderRadius: 4, fontSize: 12 } },
    },
    MuiToggleButton: {
      defaultProps: { size: "small" },
      styleOverrides: {
        root: {
          padding: "3px 9px",
          textTransform: "none",
          color: "var(--ink)",
          borderColor: "var(--line)",
          background: "var(--card)",
          "&.Mui-selected, &.Mui-selected:hover": { background: "var(--deep)", color: "#fff" },
        },
      },
    },
    MuiAutocomplete: {
      defaultProps: { size: "small" },
      styleOverrides: {
        listbox: { padding: 0, fontSize: 13 },
        noOptions: { padding: "6px 8px", fontSize: 13 },
        // The field is as high as any other: its own padding is that of a text field.
        root: {
          "& .MuiOutlinedInput-root.MuiInputBase-sizeSmall": {
            padding: 0,
            "&.MuiInputBase-multiline": { padding: "6px 9px" },
            "& input.MuiInputBase-input": { padding: "6px 9px" },
          },
        },
      },
    },
    MuiTooltip: { defaultProps: { enterDelay: 400 }, styleOverrides: { tooltip: { fontSize: 12 } } },
  },
});
