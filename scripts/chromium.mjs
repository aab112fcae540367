/** How tests, bench and screenshots start Debian's Chromium: headless, and asking nothing of the network. */
export const chromiumLaunch = {
  executablePath: process.env.KIV_CHROMIUM ?? '/usr/bin/chromium',
  args: [
    '--headless=new',
    '--no-sandbox',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
};
