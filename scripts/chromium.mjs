/**
 * How tests, benches and pictures start Debian's Chromium: no sandbox as root, nothing asked of the network.
 * The shell without a window: the same engine, of the same source; a fresh page costs its browser process a quarter
 * of what the whole browser's does.
 */
export const chromiumLaunch = {
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium-headless-shell',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
}
