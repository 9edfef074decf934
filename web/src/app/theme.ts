// Warm paper by day, deep slate for the dim bench; one petrol for actions, one amber for "now".
import { createTheme } from '@mui/material/styles'

export const theme = createTheme({
  cssVariables: true,
  colorSchemes: {
    light: {
      palette: {
        primary: { main: '#0b5d66' },
        secondary: { main: '#8f4c00' },
        error: { main: '#a3271f' },
        background: { default: '#efe9db', paper: '#fdfaf2' },
        text: { primary: '#22211d', secondary: '#5c574b' },
        divider: '#d8d0be',
      },
    },
    dark: {
      palette: {
        primary: { main: '#6cc9d2' },
        secondary: { main: '#f2b24a' },
        error: { main: '#f39a8f' },
        background: { default: '#181d21', paper: '#232a2f' },
        text: { primary: '#efeadf', secondary: '#b4b0a3' },
        divider: '#3c454b',
      },
    },
  },
  typography: {
    fontFamily: "'Atkinson Hyperlegible Next Variable', sans-serif",
    fontSize: 14, // of 14: the body is 16 px
    button: { textTransform: 'none', fontWeight: 600 },
  },
  shape: { borderRadius: 4 },
  components: {
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiPaper: { defaultProps: { elevation: 0 } },
  },
})
