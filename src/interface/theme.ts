import { createTheme, type Theme } from '@mui/material/styles';
import type { Role } from '@/core/model/choices';

/** The two rooms of the light-table. */
export type Room = 'paper' | 'dim';

interface KivPalette {
  role: Record<Role, string>;
  /** Neutral surround of the picture. */
  surround: string;
  line: string;
}

declare module '@mui/material/styles' {
  interface Theme {
    kiv: KivPalette;
  }
  interface ThemeOptions {
    kiv?: KivPalette;
  }
}

const rooms = {
  paper: {
    mode: 'light' as const,
    ground: '#f1ece2',
    sheet: '#fbf8f2',
    ink: '#25211b',
    faint: '#5d564b',
    line: '#d5ccbc',
    outline: '#857c6c',
    primary: '#1d5f55',
    role: { outgoing: '#8a5a00', incoming: '#176a5c', passing: '#7a3566' },
    surround: '#757575',
    error: '#a3271c',
    warning: '#8a5a00',
  },
  dim: {
    mode: 'dark' as const,
    ground: '#1b1b1a',
    sheet: '#252523',
    ink: '#ece8df',
    faint: '#b0aa9f',
    line: '#42413e',
    outline: '#858179',
    primary: '#7cc4b4',
    role: { outgoing: '#e0a84a', incoming: '#72c7b5', passing: '#d696c2' },
    surround: '#3c3c3c',
    error: '#f0897e',
    warning: '#e0a84a',
  },
};

export const mono = '"Atkinson Hyperlegible Mono", ui-monospace, monospace';

/** Letter that goes with each role wherever its colour does. */
export const roleLetter: Record<Role, string> = { outgoing: 'O', incoming: 'I', passing: 'P' };
export const roleName: Record<Role, string> = {
  outgoing: 'Outgoing',
  incoming: 'Incoming',
  passing: 'Passing',
};

export function kivTheme(room: Room): Theme {
  const c = rooms[room];
  return createTheme({
    kiv: { role: c.role, surround: c.surround, line: c.line },
    palette: {
      mode: c.mode,
      primary: { main: c.primary },
      error: { main: c.error },
      warning: { main: c.warning },
      background: { default: c.ground, paper: c.sheet },
      text: { primary: c.ink, secondary: c.faint },
      divider: c.line,
    },
    shape: { borderRadius: 3 },
    typography: {
      fontFamily: '"Atkinson Hyperlegible Next", system-ui, sans-serif',
      fontSize: 13,
      h1: { fontSize: '1.5rem', fontWeight: 700 },
      h2: { fontSize: '1.05rem', fontWeight: 700 },
      button: { textTransform: 'none', fontWeight: 600 },
    },
    components: {
      MuiButton: { defaultProps: { size: 'small', disableElevation: true } },
      MuiButtonBase: { defaultProps: { disableRipple: true } },
      // What alone outlines a control stands out 3 to 1 from its ground (WCAG 2.2, 1.4.11).
      MuiOutlinedInput: {
        styleOverrides: {
          root: { '&:not(.Mui-focused):not(.Mui-error):not(:hover) fieldset': { borderColor: c.outline } },
        },
      },
      // Readable under the pointer, too.
      MuiToggleButton: { styleOverrides: { root: { color: c.faint, borderColor: c.outline } } },
      MuiTextField: { defaultProps: { size: 'small' } },
      MuiSelect: { defaultProps: { size: 'small' } },
      MuiTooltip: { defaultProps: { enterDelay: 400, arrow: true } },
      MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
      MuiCssBaseline: {
        styleOverrides: {
          body: { overflow: 'hidden', height: '100vh' },
          // As wide as the column that they lie over.
          '.notistack-SnackbarContainer.notistack-SnackbarContainer': { left: 6, bottom: 6, maxWidth: 256 },
          '.notistack-MuiContent.notistack-MuiContent': { minWidth: 0, padding: '4px 12px', fontSize: 13 },
          '.notistack-MuiContent.notistack-MuiContent-warning, .notistack-MuiContent.notistack-MuiContent-error':
            {
              backgroundColor: c.sheet,
              color: c.ink,
              borderLeft: `6px solid ${c.warning}`,
            },
          '.notistack-MuiContent.notistack-MuiContent-error': { borderLeftColor: c.error },
          // Where a picture is on its way.
          '@keyframes kiv-breathe': { '50%': { opacity: 0.45 } },
          '.kiv-coming': {
            background: 'rgba(128,128,128,.3)',
            // Not at once: what moves is drawn anew each frame, and takes that from the picture.
            animation: 'kiv-breathe 1.6s ease-in-out 1.5s infinite',
            '@media (prefers-reduced-motion: reduce)': { animation: 'none' },
          },
          '@media (prefers-reduced-motion: reduce)': {
            '*, *::before, *::after': {
              transitionDuration: '0s !important',
              transitionDelay: '0s !important',
            },
          },
          '*:focus-visible': { outline: `2px solid ${c.primary}`, outlineOffset: 1 },
        },
      },
    },
  });
}
