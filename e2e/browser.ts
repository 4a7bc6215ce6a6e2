import { existsSync } from 'node:fs';

import { logging, type WebDriver } from 'selenium-webdriver';
import chrome from 'selenium-webdriver/chrome.js';

export interface Window {
  readonly width: number;
  readonly height: number;
}

const firstOf = (paths: readonly string[]): string => {
  const found = paths.find((path) => existsSync(path));
  if (found === undefined) throw new Error(`none of these is installed: ${paths.join(', ')}; bin/test installs it`);
  return found;
};

/** A headless Chromium of Debian, with WebGL in software. The caller quits it. */
export async function openBrowser({ width, height }: Window = { width: 1280, height: 800 }): Promise<WebDriver> {
  const options = new chrome.Options();
  options.setChromeBinaryPath(firstOf(['/usr/bin/chromium', '/usr/bin/chromium-browser']));
  options.addArguments(
    '--headless=new',
    '--no-sandbox',
    '--disable-dev-shm-usage',
    '--use-angle=swiftshader',
    '--enable-unsafe-swiftshader',
    '--disable-gpu-rasterization',
    '--disable-gpu-compositing',
    '--disable-smooth-scrolling',
    '--force-prefers-reduced-motion',
    '--no-first-run',
    '--disable-quic',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--force-device-scale-factor=1',
    '--hide-scrollbars',
    `--window-size=${String(width)},${String(height)}`,
  );
  const log = new logging.Preferences();
  log.setLevel(logging.Type.BROWSER, logging.Level.ALL);
  options.setLoggingPrefs(log);
  const driver = chrome.Driver.createSession(
    options,
    new chrome.ServiceBuilder(firstOf(['/usr/bin/chromedriver'])).build(),
  );
  // The window of the new headless mode includes a frame; the page itself is set to the wanted size.
  await driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width,
    height,
    deviceScaleFactor: 1,
    mobile: false,
  });
  return driver;
}
