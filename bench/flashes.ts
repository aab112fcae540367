import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import type { CrossingDocument } from '../src/core/document/tables';
import { mixRate } from '../src/core/model/limits';
import { origin, withApp } from './app';

/** Frames from one flash to the next, and how long one is. */
const [flashEvery, flashLength] = [25, 5];

/** A film at 25 frames a second that flashes every second, and sound that beeps with it from `first` seconds on. */
function flashes(folder: string): { film: string; beepsFrom: (first: number) => string } {
  const film = path.join(folder, 'flashes.mp4');
  const white = `geq=lum='if(lt(mod(N,${flashEvery}),${flashLength}),235,16)':cb=128:cr=128`;
  const picture = ['-f', 'lavfi', '-i', `color=c=gray:s=320x180:r=25:d=8,format=yuv420p,${white}`];
  run(['-y', ...picture, '-c:v', 'libx264', '-g', '12', film]);
  const beepsFrom = (first: number) => {
    const file = path.join(folder, 'beeps.wav');
    const tone = `aevalsrc='if(gte(t,${first}),if(lt(mod(t-${first},1),0.06),0.5*sin(2*PI*1000*t),0),0)':s=${mixRate}:d=8`;
    run(['-y', '-f', 'lavfi', '-i', tone, '-ac', '2', file]);
    return file;
  };
  return { film, beepsFrom };
}

function toneIn(folder: string): string {
  const file = path.join(folder, 'tone.wav');
  run(['-y', '-f', 'lavfi', '-i', `sine=f=300:r=${mixRate}:d=8`, '-ac', '2', file]);
  return file;
}

function run(args: string[]) {
  const ran = spawnSync('ffmpeg', ['-v', 'error', '-nostdin', ...args]);
  if (ran.status !== 0) throw new Error(ran.stderr.toString());
}

/**
 * ms from each beep, as it is heard by the audio clock's own output time, to the flash that goes with it, as it is read off
 * the picture on the page, and ms from pressing mute to where it is heard.
 */
export function filmedWhilePlaying(minutes: number): Promise<{ apart: number[]; changes: number[] }> {
  return withApp(async (browser, data) => {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    // What runs the bench names inner functions by a helper of its own, which the page has not.
    await page.addInitScript('globalThis.__name = (own) => own');
    await page.addInitScript(tapSound);
    const { film, beepsFrom } = flashes(data);
    const shot = (await (
      await page.request.post(`${origin}/api/shots?name=flashes.mp4`, { data: readFileSync(film) })
    ).json()) as { id: string };
    const made = { name: 'Flashes', plan: 'pass-by', outgoingShotId: shot.id, incomingShotId: shot.id };
    const { id } = (await (await page.request.post(`${origin}/api/crossings`, { data: made })).json()) as {
      id: string;
    };
    const { document } = (await (await page.request.get(`${origin}/api/crossings/${id}`)).json()) as {
      document: CrossingDocument;
    };
    const { offset } = Object.values(document.layers).find(({ role }) => role === 'outgoing')!;
    const first = ((((-offset % flashEvery) + flashEvery) % flashEvery) / 25) % 1;
    await page.goto(`${origin}/crossings/${id}`);
    await page.waitForSelector('[data-shown-frame]', { timeout: 60_000 });
    await page.getByRole('button', { name: /6 Sound/ }).click();
    // Pieces begin on the frame that is shown.
    const toFirst = () => page.keyboard.press('Home');
    await toFirst();
    await page.keyboard.press('p');
    await page.getByRole('combobox', { name: 'Quality of the preview' }).click();
    await page.getByRole('option', { name: 'Quarter quality' }).click();
    await page.getByLabel('Sound files').setInputFiles(toneIn(data));
    await page.waitForTimeout(4000);
    await page.keyboard.press('Space');
    await page.waitForTimeout(2000);
    const changes = await page.evaluate(muteAgainAndAgain);
    await page.keyboard.press('Space');
    await page.keyboard.press('Delete');
    await toFirst();
    await page.getByLabel('Sound files').setInputFiles(beepsFrom(first));
    await page.waitForTimeout(4000);
    await page.keyboard.press('Space');
    await page.evaluate(watchFlashes);
    await page.waitForTimeout(minutes * 60_000);
    const { flashes: seen, beeps } = await page.evaluate(() => (window as unknown as Filmed).filmed);
    // What sounded in the first two seconds was still settling in.
    const apart = seen
      .filter((at) => at > seen[0] + 2000)
      .map(
        (at) => at - beeps.reduce((best, beep) => (Math.abs(beep - at) < Math.abs(best - at) ? beep : best)),
      )
      .filter((ms) => Math.abs(ms) < 400);
    await page.keyboard.press('Space');
    return { apart, changes };
  });
}

interface Filmed {
  filmed: { flashes: number[]; beeps: number[]; tap?: AnalyserNode };
}

/** Runs in the page before its scripts: whatever is connected to the speakers is listened to as well. */
function tapSound() {
  const own = window as unknown as Filmed;
  own.filmed = { flashes: [], beeps: [] };
  const connect = AudioNode.prototype.connect as (this: AudioNode, ...to: unknown[]) => unknown;
  AudioNode.prototype.connect = function (this: AudioNode, ...to: unknown[]) {
    if (to[0] instanceof AudioDestinationNode) {
      own.filmed.tap ??= new AnalyserNode(this.context, { fftSize: 32_768 });
      connect.call(this, own.filmed.tap);
    }
    return connect.apply(this, to);
  } as typeof AudioNode.prototype.connect;
}

/** Runs in the page: notes when the picture turns bright, and when a beep begins to be heard; ms since the epoch. */
function watchFlashes() {
  const { filmed } = window as unknown as Filmed;
  const canvas = document.querySelector<HTMLCanvasElement>('[data-picture] canvas')!;
  const small = new OffscreenCanvas(1, 1).getContext('2d', { willReadFrequently: true })!;
  let bright = true;
  const look = () => {
    small.drawImage(canvas, canvas.width / 2 - 4, canvas.height / 2 - 4, 8, 8, 0, 0, 1, 1);
    const now = small.getImageData(0, 0, 1, 1).data[0] > 128;
    if (now && !bright) filmed.flashes.push(performance.timeOrigin + performance.now());
    bright = now;
    requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
  const samples = new Float32Array(32_768);
  const apart: number[] = [];
  setInterval(() => {
    const { tap } = filmed;
    if (!tap) return;
    const context = tap.context as AudioContext;
    const { contextTime, performanceTime } = context.getOutputTimestamp();
    if (!performanceTime || contextTime === undefined) return;
    apart.push(performance.timeOrigin + performanceTime - contextTime * 1000);
    if (apart.length > 61) apart.shift();
    tap.getFloatTimeDomainData(samples);
    const end = context.currentTime;
    let quiet = 0;
    for (let i = 0; i < samples.length; i++) {
      if (Math.abs(samples[i]) < 0.05) quiet++;
      else {
        if (quiet > 4800) {
          const sorted = apart.toSorted((a, b) => a - b);
          const at = (end - (samples.length - i) / context.sampleRate) * 1000 + sorted[sorted.length >> 1];
          if (filmed.beeps.every((known) => Math.abs(known - at) > 200)) filmed.beeps.push(at);
        }
        quiet = 0;
      }
    }
  }, 100);
}

/** Runs in the page: mutes the piece in hand and lets it sound again by its key; ms from each press to where it is heard. */
async function muteAgainAndAgain(): Promise<number[]> {
  const tap = (window as unknown as Filmed).filmed.tap!;
  const context = tap.context as AudioContext;
  const samples = new Float32Array(32_768);
  const times: number[] = [];
  for (let k = 0; k < 10; k++) {
    const pressed = performance.now();
    const key = { key: 'M', code: 'KeyM', shiftKey: true, bubbles: true };
    document.body.dispatchEvent(new KeyboardEvent('keydown', key));
    await new Promise((done) => setTimeout(done, 450));
    tap.getFloatTimeDomainData(samples);
    const { contextTime, performanceTime } = context.getOutputTimestamp();
    const heard = samples.map((x) => (Math.abs(x) > 0.004 ? 1 : 0));
    const at = k % 2 === 0 ? heard.lastIndexOf(1) : heard.indexOf(1);
    const time = context.currentTime - (samples.length - at) / context.sampleRate;
    times.push(performanceTime! + (time - contextTime!) * 1000 - pressed);
    await new Promise((done) => setTimeout(done, 500));
  }
  return times;
}
