'use client';

// First, as the messages' library writes its style sheet when it is loaded.
import { AppRouterCacheProvider } from '@mui/material-nextjs/v16-appRouter';
import CssBaseline from '@mui/material/CssBaseline';
import { ThemeProvider } from '@mui/material/styles';
import { SnackbarProvider } from '@/interface/messages';
import { createContext, type ReactNode, useContext, useEffect, useMemo, useState } from 'react';
import { kivTheme, type Room } from './theme';

const RoomContext = createContext<{ room: Room; setRoom(room: Room): void }>({
  room: 'paper',
  setRoom: () => {},
});

export const useRoom = () => useContext(RoomContext);

const storageKey = 'kiv-look';

/** Theme, style cache and messages for every page. */
export function Providers({ nonce, children }: { nonce: string | undefined; children: ReactNode }) {
  const [room, setRoom] = useState<Room>('paper');
  useEffect(() => {
    // Read after the first paint, as the server cannot know it.
    if (localStorage.getItem(storageKey) === 'dim') setRoom('dim');
  }, []);
  const value = useMemo(
    () => ({
      room,
      setRoom(next: Room) {
        localStorage.setItem(storageKey, next);
        setRoom(next);
      },
    }),
    [room],
  );
  const theme = useMemo(() => kivTheme(room), [room]);
  return (
    <AppRouterCacheProvider options={{ nonce }}>
      <RoomContext.Provider value={value}>
        <ThemeProvider theme={theme}>
          <CssBaseline />
          <SnackbarProvider
            preventDuplicate
            maxSnack={3}
            // Over the steps' panel: neither the picture nor what is dragged is covered.
            anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
          >
            {children}
          </SnackbarProvider>
        </ThemeProvider>
      </RoomContext.Provider>
    </AppRouterCacheProvider>
  );
}
