import { createTheme } from "@mui/material/styles";

/** The colours of the interface. Pieces bring their own; these stay quiet beside them. */
const ink = { paper: "#F7F5F0", card: "#FFFEFB", line: "#DED9CE", text: "#1D2530", mute: "#5C6570" };
const night = { paper: "#14191D", card: "#1B2227", line: "#333D43", text: "#E6E9E6", mute: "#9AA6AD" };

export const theme = createTheme({
  cssVariables: { colorSchemeSelector: "media" },
  colorSchemes: {
    light: {
      palette: {
        primary: { main: "#0E6B68" },
        warning: { main: "#A8650B" },
        error: { main: "#A93420" },
        background: { default: ink.paper, paper: ink.card },
        text: { primary: ink.text, secondary: ink.mute },
        divider: ink.line,
      },
    },
    dark: {
      palette: {
        primary: { main: "#63B8AE" },
        warning: { main: "#E7B75B" },
        error: { main: "#EF8F7C" },
        background: { default: night.paper, paper: night.card },
        text: { primary: night.text, secondary: night.mute },
        divider: night.line,
      },
    },
  },
  typography: {
    fontFamily: '"IBM Plex Sans", system-ui, sans-serif',
    fontSize: 13,
    button: { textTransform: "none", fontWeight: 600 },
  },
  shape: { borderRadius: 5 },
  components: {
    MuiButton: {
      defaultProps: { size: "small", disableElevation: true },
      styleOverrides: { root: { whiteSpace: "nowrap" } },
    },
    MuiTextField: { defaultProps: { size: "small" } },
    MuiSelect: { defaultProps: { size: "small" } },
    MuiSwitch: { defaultProps: { size: "small" } },
    MuiTooltip: { defaultProps: { enterDelay: 400 } },
  },
});
