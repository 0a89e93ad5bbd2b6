import { execFileSync, spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { cpSync, mkdirSync, rmSync } from 'node:fs';
import path from 'node:path';
import type { MediaItem } from '@flimzy/contract';
import { ffmpeg, newFolder, TestServer } from '../apps/server/test/running';
import { missing, sha, wait, write, type Faults } from './rounds';

/** Whether this machine lets a disk be made of a file. */
function disk(file: string, place: string): boolean {
  mkdirSync(place, { recursive: true });
  return spawnSync('mount', ['-o', 'loop', file, place]).status === 0;
}

/**
 * Cuts the power: the disk's image is copied while edits and imports go on, which keeps what had reached the disk and nothing else, and
 * a server is started on the copy. Where no disk can be mounted, the folder is copied instead.
 */
export async function cutPower(copies: number): Promise<{ way: string; acknowledged: number; faults: Faults }> {
  const faults: Faults = [];
  const scratch = newFolder();
  const image = path.join(scratch, 'disk.img');
  const place = path.join(scratch, 'disk');
  execFileSync('truncate', ['-s', '700M', image]);
  const mounted = spawnSync('mkfs.ext4', ['-q', image]).status === 0 && disk(image, place);
  const data = path.join(place, 'data');
  mkdirSync(data, { recursive: true });
  const clip = path.join(scratch, 'clip.mp4');
  ffmpeg('-f', 'lavfi', '-i', 'testsrc2=size=320x240:rate=30:duration=2', '-pix_fmt', 'yuv420p', clip);
  const server = await TestServer.start(data);
  const piece = await server.newPiece();
  const acknowledged: string[] = [];
  let going = true;
  const writer = write(server, piece.id, acknowledged, () => going);
  const importer = (async () => {
    for (let n = 0; going; n += 1) await server.bringIn(clip, `${n}.mp4`, true).catch(() => null);
  })();
  for (let n = 0; n < copies; n += 1) {
    await wait(1000 + Math.random() * 3000);
    const [after, there] = [path.join(scratch, `after-${n}`), [...acknowledged]];
    mkdirSync(after);
    process.kill(server.pid, 'SIGSTOP');
    if (mounted) cpSync(image, `${image}.${n}`);
    else spawnSync('cp', ['-r', data, after]); // what vanishes meanwhile is no fault
    process.kill(server.pid, 'SIGCONT');
    if (mounted && !disk(`${image}.${n}`, after)) {
      faults.push(`copy ${n}: the disk cannot be mounted`);
      continue;
    }
    const copied = path.join(after, 'data');
    const again = await TestServer.start(copied);
    const lost = await missing(again, piece.id, there);
    if (lost.length > 0) faults.push(`copy ${n}: ${lost.length} of ${there.length} acknowledged edits are gone`);
    for (const item of await again.call<MediaItem[]>('listMedia')) {
      const settled = await again.settled(item.id, true);
      if (settled.status !== 'ready') faults.push(`copy ${n}: ${item.name} is ${settled.status}: ${settled.error}`);
      else if (sha(path.join(copied, 'media', item.id, 'original')) !== sha(clip))
        faults.push(`copy ${n}: ${item.name} is ready without its original`);
    }
    await again.stop();
    if (mounted) spawnSync('umount', [after]);
    rmSync(`${image}.${n}`, { force: true });
  }
  going = false;
  await Promise.all([writer, importer]);
  await server.stop();
  if (mounted) spawnSync('umount', [place]);
  rmSync(scratch, { recursive: true, force: true });
  return {
    way: mounted ? 'image of a mounted disk' : 'copy of the folder (no disk can be mounted here)',
    acknowledged: acknowledged.length,
    faults,
  };
}

/**
 * Fills the disk under a working server: what does not fit is refused with that reason, what was there stays, and when there is room
 * again everything goes on. Needs a disk of its own; null where none can be mounted.
 */
export async function fillDisk(): Promise<Faults | null> {
  const faults: Faults = [];
  const scratch = newFolder();
  const [image, place] = [path.join(scratch, 'disk.img'), path.join(scratch, 'disk')];
  execFileSync('truncate', ['-s', '220M', image]);
  if (spawnSync('mkfs.ext4', ['-q', '-m', '0', image]).status !== 0 || !disk(image, place)) return null;
  const [data, ballast] = [path.join(place, 'data'), path.join(place, 'ballast')];
  const clip = path.join(scratch, 'clip.mp4');
  ffmpeg('-f', 'lavfi', '-i', 'testsrc2=size=320x240:rate=30:duration=2', '-pix_fmt', 'yuv420p', clip);
  let server = await TestServer.start(data, { args: ['--no-demo', '--web', '', '--spare', '0'] });
  const item = await server.bringIn(clip, 'clip.mp4', true);
  const piece = await server.newPiece();
  const acknowledged: string[] = [];
  const edit = async () => {
    const request = {
      kind: 'do',
      id: randomUUID(),
      name: 'rename',
      params: { clip: null, name: `Name ${acknowledged.length}`.padEnd(100, 'x') },
    };
    const answer = await server.fetch('editPiece', { id: piece.id }, {}, { since: 0, requests: [request] });
    if (answer.ok) acknowledged.push(request.id);
    return answer.status;
  };
  for (let n = 0; n < 20; n += 1) await edit();
  const big = Buffer.alloc(30 * 1024 ** 2, 7);
  const upload = await server.beginUpload('big.mp4', big.length);
  spawnSync('dd', ['if=/dev/zero', `of=${ballast}`, 'bs=64k']);
  const status = await server.sendPart(upload, 0, big);
  if (status !== 507) faults.push(`an upload into a full disk is answered with ${status}`);
  const refused = await server.beginUpload('another.mp4', big.length).then(
    () => 'taken',
    (error: unknown) => String(error),
  );
  if (!/not enough room|disk of the server is full/.test(refused)) faults.push(`an upload that does not fit is ${refused}`);
  const statuses = new Set<number>();
  for (let n = 0; n < 400; n += 1) statuses.add(await edit());
  for (const one of statuses) if (one !== 200 && one !== 507) faults.push(`an edit on a full disk is answered with ${one}`);
  if (!(await server.fetch('health')).ok) faults.push('the server is down');
  rmSync(ballast);
  if ((await edit()) !== 200) faults.push('with room again an edit is still refused');
  await server.stop();
  server = await TestServer.start(data);
  const lost = await missing(server, piece.id, acknowledged);
  if (lost.length > 0) faults.push(`${lost.length} of ${acknowledged.length} acknowledged edits are gone`);
  if ((await server.settled(item.id, true)).status !== 'ready') faults.push('the item is not ready any more');
  if (sha(path.join(data, 'media', item.id, 'original')) !== sha(clip)) faults.push('the original is not what was sent');
  await server.stop();
  spawnSync('umount', [place]);
  rmSync(scratch, { recursive: true, force: true });
  return faults;
}
