import { chromium } from 'playwright-core';

/** How tests, bench and screenshots start Debian's Chromium: headless, and asking nothing of the network. */
const quietly = [
  '--headless=new',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

/** Chromium refuses its sandbox to root. */
const isRoot = process.getuid?.() === 0;
const withoutSandbox = '--no-sandbox';

export const chromiumLaunch = {
  executablePath: process.env.KIV_CHROMIUM ?? '/usr/bin/chromium',
  args: isRoot ? [...quietly, withoutSandbox] : quietly,
};

/**
 * Starts Chromium in its sandbox, or without where it cannot be had: for root, and where the system gives none.
 *
 * @param say told, in a sentence, when it runs without.
 */
export async function launchChromium(say) {
  if (isRoot) say('Chromium runs without its sandbox, as root has started it.');
  try {
    return await chromium.launch(chromiumLaunch);
  } catch (error) {
    if (isRoot || !/sandbox/i.test(error.message)) throw error;
    const browser = await chromium.launch({ ...chromiumLaunch, args: [...quietly, withoutSandbox] });
    say('Chromium runs without its sandbox, as this system gives it none.');
    return browser;
  }
}
