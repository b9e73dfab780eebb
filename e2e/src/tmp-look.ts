import { writeFileSync } from 'node:fs';
import { Key } from 'selenium-webdriver';
import { Bench } from './bench.ts';

const bench = await Bench.start();
try {
  const size = async (width: number, height: number) =>
    bench.driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', { width, height, deviceScaleFactor: 1, mobile: false });
  const shot = async (name: string) => writeFileSync(`/tmp/shot-${name}.png`, Buffer.from(await bench.driver.takeScreenshot(), 'base64'));
  await size(1280, 800);
  await bench.open('/layout');
  await bench.click('state-button');
  await bench.waitFor('states', () => bench.has('states'));
  await bench.settled();
  await shot('states1');
  await bench.click('look-near');
  await bench.settled();
  await bench.click('differ');
  await bench.press('L4 back thickness', Key.ENTER);
  await bench.settled();
  await bench.click('overlay-states');
  await bench.settled();
  await shot('states2');
  await bench.chord([Key.CONTROL], Key.NULL).catch(() => {});
  await bench.driver.get(bench.server.url.replace(/\/$/, "") + "/study");
  await bench.settled();
  await shot('states3');
  await bench.select('tile-state','every'); await bench.settled(); await shot('states4');
} finally {
  await bench.close();
}
