'use client';

// First, as the messages' library writes its style sheet when it is loaded.
import { AppRouterCacheProvider } from '@mui/material-nextjs/v16-appRouter';
import CssBaseline from '@mui/material/CssBaseline';
import { ThemeProvider } from '@mui/material/styles';
import { SnackbarProvider } from '@/interface/messages';
import { createContext, type ReactNode, useContext, useEffect, useMemo, useState } from 'react';
import { kivTheme, type Look } from './theme';

const LookContext = createContext<{ look: Look; setLook(look: Look): void }>({
  look: 'paper',
  setLook: () => {},
});

export const useLook = () => useContext(LookContext);

const storageKey = 'kiv-look';

/** Theme, style cache and messages for every page. */
export function Providers({ nonce, children }: { nonce: string | undefined; children: ReactNode }) {
  const [look, setLook] = useState<Look>('paper');
  useEffect(() => {
    // Read after the first paint, as the server cannot know it.
    if (localStorage.getItem(storageKey) === 'dim') setLook('dim');
  }, []);
  const value = useMemo(
    () => ({
      look,
      setLook(next: Look) {
        localStorage.setItem(storageKey, next);
        setLook(next);
      },
    }),
    [look],
  );
  const theme = useMemo(() => kivTheme(look), [look]);
  return (
    <AppRouterCacheProvider options={{ nonce }}>
      <LookContext.Provider value={value}>
        <ThemeProvider theme={theme}>
          <CssBaseline />
          <SnackbarProvider
            preventDuplicate
            maxSnack={3}
            anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}
          >
            {children}
          </SnackbarProvider>
        </ThemeProvider>
      </LookContext.Provider>
    </AppRouterCacheProvider>
  );
}
