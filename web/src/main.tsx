import createCache from '@emotion/cache'
import { CacheProvider } from '@emotion/react'
import CssBaseline from '@mui/material/CssBaseline'
import { ThemeProvider } from '@mui/material/styles'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { BrowserRouter } from 'react-router'
import '@fontsource-variable/atkinson-hyperlegible-next/index.css'
import '@fontsource-variable/atkinson-hyperlegible-mono/index.css'
import { App } from './app/App'
import { theme } from './app/theme'
import { Problem } from './api/client'
import './app/main.css'

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content
const styles = createCache({ key: 'ys', prepend: true, ...(nonce === undefined ? {} : { nonce }) })
const queries = new QueryClient({
  // what the server refused it refuses again; what was not reached is tried for as long as the page stands
  defaultOptions: {
    queries: { retry: (n, e) => n < 2 && !(e instanceof Problem && e.status >= 400), networkMode: 'always' },
    mutations: { networkMode: 'always' },
  },
})

const root = document.getElementById('root')
if (root === null) throw new Error('the page has no root')
createRoot(root).render(
  <StrictMode>
    <CacheProvider value={styles}>
      <ThemeProvider theme={theme}>
        <CssBaseline />
        <QueryClientProvider client={queries}>
          <BrowserRouter>
            <App />
          </BrowserRouter>
        </QueryClientProvider>
      </ThemeProvider>
    </CacheProvider>
  </StrictMode>,
)
