import { mkdirSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { createCanvas } from '@napi-rs/canvas';
import { film, writeSound, type Shot } from './film';
import { beachRun, dusk, hilltop, lineInHand, shadow, tail, type Scene } from './scenes/outdoors';
import { paperCut, spars, talkFront, talkHands, talkSide } from './scenes/workshop';
import { addAt, EFFECTS, noise, silence, tune, wind, type Mono } from './sound/synth';
import { speak } from './sound/voice';

const { values } = parseArgs({
  options: {
    out: { type: 'string', default: 'demo/media' },
    coded: { type: 'boolean', default: false },
    only: { type: 'string' },
    from: { type: 'string' },
  },
});
const out = values.out;
mkdirSync(out, { recursive: true });

const TALK =
  'A kite is only paper, two sticks, and a bit of patience. First the long stick, then the cross. Tie them where they meet, not too tight. ' +
  'Now the paper goes on, and the paper does the flying. If it pulls to one side, the tail is too short. That is the whole secret.';

/** A voice in a room or outdoors, as long as the shot. */
function spoken(text: string, seconds: number, delay: number, under: Mono | null, gain = 0.8): { mix: Mono; voice: Mono } {
  const voice = silence(seconds);
  addAt(voice, speak(text), delay, gain);
  const mix = voice.slice();
  if (under) addAt(mix, under, 0, 1);
  return { mix, voice };
}

const roomTone = (seconds: number) => noise(seconds, 0.97, 3).map((v) => v * 0.05);
const breeze = (seconds: number, seed: number) => wind(seconds, seed).map((v) => v * 0.5);

/** A phone short of light drops frames: every second one for a while, later every fifth. */
const unsteady = {
  test: (n: number) => (n > 60 && n < 120 && n % 2 === 1) || (n >= 150 && n % 5 === 3),
  select: 'gt(n,60)*lt(n,120)*eq(mod(n,2),1)+gte(n,150)*eq(mod(n,5),3)',
};

/** The demo's clips. In the test variant every frame carries its number, and all is smaller and shorter. */
function shots(): Shot[] {
  const tall = { width: 1080, height: 1920 };
  const wide = { width: 1920, height: 1080 };
  const talk = (lead: number, seconds: number) => spoken(TALK, seconds, lead, roomTone(seconds));
  const [front, side, hands] = [talk(1, 20), talk(2.2, 20), talk(0.2, 18)];
  const hill = spoken('There she goes. Give her some line. More. More. And hold.', 10, 1, breeze(10, 2));
  const inHand = spoken('Feel that? That is the wind, talking to you.', 8, 1.5, breeze(8, 4));
  const run = spoken('Run, run, run, do not look back!', 8, 1, breeze(8, 6));
  return [
    { file: 'talk-front.mp4', scene: talkFront, ...wide, rate: '25', seconds: 20, sound: { left: front.mix }, voice: front.voice },
    {
      file: 'talk-side.mp4',
      scene: talkSide,
      ...wide,
      rate: '25',
      seconds: 20,
      sound: { left: side.mix },
      voice: side.voice,
      offset: -1.2,
    },
    { file: 'talk-hands.mp4', scene: talkHands, ...wide, rate: '25', seconds: 18, sound: { left: hands.mix }, offset: 0.8 },
    { file: 'hilltop.mp4', scene: hilltop, ...tall, rate: '30', seconds: 10, sound: { left: hill.mix } },
    { file: 'line-in-hand.mp4', scene: lineInHand, ...tall, rate: '30000/1001', seconds: 8, sound: { left: inHand.mix } },
    { file: 'beach-run.mp4', scene: beachRun, ...tall, rate: '30', seconds: 8, sound: { left: run.mix }, skip: unsteady },
    { file: 'dusk.mp4', scene: dusk, ...tall, rate: '30', seconds: 6, sound: { left: breeze(6, 8) }, turned: 90 },
    { file: 'paper-cut.mp4', scene: paperCut, ...wide, rate: '30000/1001', seconds: 6, sound: { left: snips(6) } },
    { file: 'spars.mp4', scene: spars, ...wide, rate: '60', seconds: 5, sound: { left: roomTone(5) } },
    { file: 'tail-in-the-wind.mp4', scene: tail, ...wide, rate: '30', seconds: 6, sound: { left: breeze(6, 12) } },
    { file: 'shadow-on-the-field.mp4', scene: shadow, ...wide, rate: '30', seconds: 6 },
  ];
}

function snips(seconds: number): Mono {
  const mix = roomTone(seconds);
  for (let t = 0.3; t < seconds; t += 0.52) addAt(mix, (EFFECTS['snip-snip'] as () => Mono)(), t, 0.6);
  return mix;
}

function photo(file: string, scene: Scene, width: number, height: number, t: number): void {
  const canvas = createCanvas(width, height);
  scene(canvas.getContext('2d'), width, height, t, 0);
  writeFileSync(path.join(out, file), canvas.toBuffer('image/jpeg', 88));
}

const said = (file: string) => console.log(`${file}  ${(statSync(path.join(out, file)).size / 1e6).toFixed(2)} MB`);

const all = shots();
for (const shot of all.slice(
  Math.max(
    0,
    all.findIndex((s) => values.from && s.file.startsWith(values.from)),
  ),
)) {
  if (values.only && !shot.file.startsWith(values.only)) continue;
  const small = values.coded
    ? { width: shot.width / 3, height: shot.height / 3, seconds: Math.min(shot.seconds, 6), coded: true, crf: 18 }
    : {};
  await film({ ...shot, ...small, file: path.join(out, shot.file) });
  said(shot.file);
}

if (!values.coded && !values.only) {
  photo('finished-kite.jpg', tail, 1600, 1200, 2);
  photo('on-the-hill.jpg', hilltop, 1200, 1600, 4.5);
  photo('the-bench.jpg', talkHands, 1600, 1600, 1);
  const airy = tune(
    96,
    12,
    [
      [0, 4, 7, 11],
      [-3, 0, 4, 9],
      [-7, -3, 0, 5],
      [-5, -1, 2, 7],
    ],
    0.5,
  );
  const brisk = tune(
    120,
    16,
    [
      [2, 5, 9, 14],
      [-2, 2, 5, 10],
      [5, 9, 12, 17],
      [0, 4, 7, 12],
    ],
    0.58,
  );
  writeSound(path.join(out, 'fair-wind.mp3'), airy.left, airy.right);
  writeSound(path.join(out, 'up-she-goes.m4a'), brisk.left, brisk.right);
  for (const [name, make] of Object.entries(EFFECTS)) writeSound(path.join(out, `${name}.wav`), make());
  const note = spoken('Note to myself. The blue paper tears when it is wet. Buy the waxed kind.', 7, 0.5, null);
  const hum = note.mix.map(
    (v, i) => v * 0.5 + Math.sin((i / 48_000) * Math.PI * 100) * 0.06 + Math.sin((i / 48_000) * Math.PI * 300) * 0.02,
  );
  addAt(hum, noise(7, 0.3, 21), 0, 0.09);
  writeSound(path.join(out, 'note-to-myself.m4a'), hum);
  for (const file of ['finished-kite.jpg', 'on-the-hill.jpg', 'the-bench.jpg', 'fair-wind.mp3', 'up-she-goes.m4a', 'note-to-myself.m4a'])
    said(file);
}
