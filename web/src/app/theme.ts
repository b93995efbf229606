import { createTheme, type Theme } from "@mui/material/styles";

/** Paper and pine; marigold only where somebody has to act now; red only for danger. */
const act = { main: "#f2b632", contrastText: "#1d1a10" };

declare module "@mui/material/styles" {
  interface Palette {
    act: Palette["primary"];
  }
  interface PaletteOptions {
    act?: PaletteOptions["primary"];
  }
}
declare module "@mui/material/Button" {
  interface ButtonPropsColorOverrides {
    act: true;
  }
}

const light = {
  primary: { main: "#2b5447", contrastText: "#ffffff" },
  error: { main: "#a8231c" },
  info: { main: "#2b5447" },
  background: { default: "#f4f0e4", paper: "#fbf9f2" },
  text: { primary: "#1d2a25", secondary: "#4c5a54" },
  divider: "#cfc9b6",
  focus: "#1f6fc0",
  act,
};
const dark = {
  primary: { main: "#9accb9", contrastText: "#0d1714" },
  error: { main: "#ff9c92" },
  info: { main: "#9accb9" },
  background: { default: "#111b17", paper: "#192722" },
  text: { primary: "#ece7d8", secondary: "#b4beb7" },
  divider: "#3a4a43",
  focus: "#7db8ff",
  act,
};

/** A theme; `big` for gloved fingers: nothing to touch is lower than 48 px. */
export function makeTheme(mode: "light" | "dark", big: boolean): Theme {
  const palette = mode === "dark" ? dark : light;
  const { focus: _, ...colours } = palette;
  return createTheme({
    palette: { mode, ...colours },
    typography: {
      fontFamily: "'Overpass Variable', sans-serif",
      fontSize: big ? 16 : 14,
      button: { textTransform: "none", fontWeight: 650 },
      h1: { fontSize: "1.6rem", fontWeight: 750 },
      h2: { fontSize: "1.2rem", fontWeight: 700 },
      h3: { fontSize: "1rem", fontWeight: 700 },
    },
    shape: { borderRadius: 6 },
    components: {
      MuiButton: { styleOverrides: { root: { minHeight: big ? 48 : 38 } }, defaultProps: { disableElevation: true } },
      MuiIconButton: { styleOverrides: { root: big ? { minWidth: 48, minHeight: 48 } : {} } },
      // The usual greys of these are too pale to read.
      // It is a button, and a browser gives those a font of their own.
      MuiAccordionSummary: { styleOverrides: { root: { font: "inherit" } } },
      MuiToggleButton: { styleOverrides: { root: { color: palette.text.primary } } },
      MuiFormHelperText: { styleOverrides: { root: { "&.Mui-disabled": { color: palette.text.secondary } } } },
      MuiTextField: { defaultProps: { size: "small" } },
      // Labels stand above their fields, whole: inside one a long label is cut, and goes when something is typed.
      MuiInputLabel: {
        defaultProps: { shrink: true },
        styleOverrides: {
          root: {
            position: "static",
            transform: "none",
            maxWidth: "none",
            whiteSpace: "normal",
            overflow: "visible",
            fontSize: "0.92em",
            lineHeight: 1.25,
            marginBottom: 3,
            color: palette.text.secondary,
          },
        },
      },
      MuiOutlinedInput: {
        defaultProps: { notched: false },
        styleOverrides: { notchedOutline: { top: 0, "& legend": { display: "none" } } },
      },
      ...(big
        ? {
            MuiInputBase: { styleOverrides: { root: { minHeight: 48 } } },
            MuiSelect: {
              styleOverrides: {
                select: {
                  minHeight: "48px !important",
                  boxSizing: "border-box" as const,
                  display: "flex",
                  alignItems: "center",
                },
              },
            },
            MuiFormControlLabel: { styleOverrides: { root: { minHeight: 48 } } },
            MuiChip: { styleOverrides: { clickable: { minHeight: 44 } } },
            MuiMenuItem: { styleOverrides: { root: { minHeight: 48, whiteSpace: "normal" } } },
          }
        : {}),
      MuiPaper: { defaultProps: { elevation: 0 } },
      MuiCssBaseline: {
        styleOverrides: {
          "@media (prefers-reduced-motion: reduce)": {
            "*": { animation: "none !important", transition: "none !important" },
          },
          // MUI takes the outline of its own things away; 3:1 against paper and pine in both themes, and on the filled
          // buttons by the ring of the ground between.
          ":focus-visible, .Mui-focusVisible.Mui-focusVisible": {
            outline: `3px solid ${palette.focus}`,
            outlineOffset: 2,
          },
          "@media print": { ".no-print": { display: "none !important" } },
          ".mono": { fontFamily: "'Overpass Mono Variable', monospace" },
        },
      },
    },
  });
}
