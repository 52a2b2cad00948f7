'use client';
import { createTheme } from '@mui/material/styles';

const FONT = '"Figtree Variable", system-ui, sans-serif';

/** Ink, paper, spruce, ochre, raspberry and blue; colour never speaks alone. */
export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-scheme', cssVarPrefix: 'b' },
  colorSchemes: {
    light: {
      palette: {
        primary: { main: '#1B5949', contrastText: '#FFFFFF' },
        warning: { main: '#8A5600' },
        error: { main: '#A8234B' },
        info: { main: '#27628C' },
        success: { main: '#1B5949' },
        background: { default: '#F2F4F1', paper: '#FFFFFF' },
        text: { primary: '#15211C', secondary: '#54635C' },
        divider: '#D9E0DB',
      },
    },
    dark: {
      palette: {
        primary: { main: '#7CC9AC', contrastText: '#0C1512' },
        warning: { main: '#E9B35A' },
        error: { main: '#F08BA8' },
        info: { main: '#8DBEE3' },
        success: { main: '#7CC9AC' },
        background: { default: '#0E1512', paper: '#151F1B' },
        text: { primary: '#E7EFEA', secondary: '#A3B3AB' },
        divider: '#2A3832',
      },
    },
  },
  shape: { borderRadius: 6 },
  typography: { fontFamily: FONT, fontSize: 13, button: { textTransform: 'none', fontWeight: 600 } },
  components: {
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiButton: {
      defaultProps: { size: 'small', disableElevation: true },
      // As large as the other buttons of the desk.
      styleOverrides: { root: { fontSize: 14 } },
    },
    MuiTextField: { defaultProps: { size: 'small', fullWidth: true } },
    MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiDialog: { styleOverrides: { paper: { borderRadius: 8 } } },
  },
});
