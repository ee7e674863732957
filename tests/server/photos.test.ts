import { createHash } from 'node:crypto';
import { mkdir, mkdtemp, readdir, rm, utimes, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Readable } from 'node:stream';
import archiver from 'archiver';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Database } from '$lib/server/database/connection';
import { pictureArchive, takePictures } from '$lib/server/exchange/picture-archive';
import { keepPhoto, keptPhotos, photoIsKept, readPhoto, restorePhoto } from '$lib/server/photos/store';
import { freshDatabase } from './fresh-database';
import { unavailableAnswer, unavailableBy } from '$lib/server/http/unavailable';
import { dropOrphanPhotos } from '$lib/server/tickets/orphan-photos';
import { changed, NOW, smallShop, takenIn } from './small-shop';

let db: Database;
const folders: string[] = [];
const useFolder = async () => {
	process.env.TAVREK_PHOTOS = await mkdtemp(path.join(tmpdir(), 'tavrek-photos-'));
	folders.push(process.env.TAVREK_PHOTOS);
};
beforeAll(async () => {
	db = await freshDatabase();
	await useFolder();
});
afterAll(async () => {
	await db.destroy();
	for (const folder of folders) await rm(folder, { recursive: true });
});

/** As a telephone takes it: lying on its side, with a place and a maker in its metadata. */
const taken = (width = 3000, height = 2000) =>
	sharp({ create: { width, height, channels: 3, background: '#684' } })
		.withExif({
			IFD0: { Make: 'Somebody', Model: 'Something' },
			IFD3: { GPSLatitudeRef: 'N', GPSLatitude: '38/1 42/1 0/1' }
		})
		.withMetadata({ orientation: 6 })
		.jpeg()
		.toBuffer();
const kept = async (bytes: Buffer) => {
	const answer = await keepPhoto(bytes);
	if ('message' in answer) throw new Error(answer.message);
	return answer;
};

describe('a picture', () => {
	it('is turned upright, made smaller, and says nothing of where and with what it was taken', async () => {
		const before = await sharp(await taken()).metadata();
		expect([before.orientation, before.exif === undefined]).toEqual([6, false]);
		const { photo, width, height } = await kept(await taken());
		expect([width, height]).toEqual([1333, 2000]);
		const data = (await readPhoto(photo)) as Buffer;
		const after = await sharp(data).metadata();
		expect([after.width, after.height, after.orientation, after.exif, after.format]).toEqual([
			1333,
			2000,
			undefined,
			undefined,
			'jpeg'
		]);
		for (const word of ['Somebody', 'Something', 'GPS']) expect(data.includes(word)).toBe(false);
		const small = await sharp((await readPhoto(photo, true)) as Buffer).metadata();
		expect(Math.max(small.width, small.height)).toBe(360);
	});
	it('the same one twice is one file; a small one is not made larger', async () => {
		const one = await kept(await taken(200, 100));
		const two = await kept(await taken(200, 100));
		expect(two).toEqual(one);
		expect(Math.max(one.width, one.height)).toBe(200);
	});
	it.each([
		['no picture', Buffer.from('hello')],
		['nothing', Buffer.alloc(0)],
		['half a picture', 'half'],
		['a drawing', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>')]
	])('%s is refused with what to do', async (_, bytes) => {
		const sent = bytes === 'half' ? (await taken()).subarray(0, 900) : (bytes as Buffer);
		const answer = await keepPhoto(sent);
		expect(answer).toMatchObject({ field: 'photo', message: expect.stringMatching(/jpeg, png, webp/) });
	});
	it('a bomb of pixels is not unpacked', async () => {
		const bomb = await sharp({ create: { width: 12_000, height: 6000, channels: 3, background: '#000' } })
			.png()
			.toBuffer();
		expect(await keepPhoto(bomb)).toMatchObject({ field: 'photo' });
	});
	it('a name that is no hash reads nothing', async () => {
		for (const name of ['../../etc/passwd', 'x', '0'.repeat(64), `${'0'.repeat(63)}G`]) {
			expect(await photoIsKept(name)).toBe(false);
			expect(await readPhoto(name)).toBeNull();
		}
	});
});

describe('pictures leave and come back', () => {
	const bytesOf = async (stream: ReadableStream<Uint8Array>) =>
		new Uint8Array(await new Response(stream).arrayBuffer());
	it('all of them, byte by byte', async () => {
		const names = await keptPhotos();
		expect(names.length).toBeGreaterThan(1);
		const whole = await Promise.all(names.map((name) => readPhoto(name)));
		const zip = await bytesOf(await pictureArchive(db, 'Odile', NOW));
		await useFolder();
		expect(await keptPhotos()).toEqual([]);
		const taken = await takePictures(db, 'Odile', NOW, new Response(zip).body as ReadableStream<Uint8Array>);
		expect(taken).toEqual({ kept: names.length, refused: 0 });
		expect(await keptPhotos()).toEqual(names);
		expect(await Promise.all(names.map((name) => readPhoto(name)))).toEqual(whole);
	});
	it('what holds something else than its name says is not taken', async () => {
		const [name = ''] = await keptPhotos();
		const data = (await readPhoto(name)) as Buffer;
		expect(await restorePhoto('0'.repeat(64), data)).toBe(false);
		expect(await restorePhoto(name, Buffer.concat([data, Buffer.from('x')]))).toBe(false);
		expect(await restorePhoto('../x', data)).toBe(false);
	});
	it('a file that is no ZIP is named as that, and leaves nothing behind', async () => {
		const before = (await readdir(tmpdir())).filter((name) => /^tavrek-[A-Za-z0-9]{6}$/.test(name)).length;
		const answer = await takePictures(
			db,
			'Odile',
			NOW,
			new Response('no zip').body as ReadableStream<Uint8Array>
		);
		expect(answer).toMatchObject({ problem: expect.stringContaining('no ZIP') });
		expect((await readdir(tmpdir())).filter((name) => /^tavrek-[A-Za-z0-9]{6}$/.test(name)).length).toBe(
			before
		);
	});
	it('what lies beside the pictures is no picture', async () => {
		const folder = process.env.TAVREK_PHOTOS ?? '';
		const [part = ''] = await readdir(folder);
		await writeFile(path.join(folder, part, 'note.txt'), 'x');
		expect((await keptPhotos()).every((name) => /^[0-9a-f]{64}$/.test(name))).toBe(true);
	});
	it('a picture that says where it was taken, or is no JPEG, is none of ours whatever its name', async () => {
		const sha = (data: Buffer) => createHash('sha256').update(data).digest('hex');
		const told = await taken(300, 200);
		expect(await restorePhoto(sha(told), told)).toBe(false);
		const png = await sharp({ create: { width: 9, height: 9, channels: 3, background: '#684' } })
			.png()
			.toBuffer();
		expect(await restorePhoto(sha(png), png)).toBe(false);
		expect(await photoIsKept(sha(told))).toBe(false);
	});
	it('an entry that leads elsewhere is one that is refused; the others are taken', async () => {
		const [name = ''] = await keptPhotos();
		const data = (await readPhoto(name)) as Buffer;
		const archive = archiver('zip', { store: true });
		archive.append('x', { name: 'aa/x' });
		archive.append(data, { name: `${name}.jpg` });
		await archive.finalize();
		// written by hand: no library makes such a name
		const zip = Buffer.from((await bytesOf(Readable.toWeb(archive) as ReadableStream<Uint8Array>)).buffer);
		for (let at = zip.indexOf('aa/x'); at >= 0; at = zip.indexOf('aa/x')) zip.write('../x', at);
		const answer = await takePictures(db, 'Odile', NOW, new Response(zip).body as ReadableStream<Uint8Array>);
		expect(answer).toEqual({ kept: 1, refused: 1 });
	});
	it('an export whose reader is gone ends', async () => {
		const reader = (await pictureArchive(db, 'Odile', NOW)).getReader();
		await reader.read();
		await reader.cancel();
		// nothing of it goes on: a second one is read whole
		expect((await bytesOf(await pictureArchive(db, 'Odile', NOW))).byteLength).toBeGreaterThan(100);
	});
});

describe('pictures that nobody holds', () => {
	const old = async () => {
		const folder = process.env.TAVREK_PHOTOS ?? '';
		const long = new Date(Date.now() - 25 * 3_600_000);
		for (const part of await readdir(folder))
			for (const name of await readdir(path.join(folder, part)))
				await utimes(path.join(folder, part, name), long, long);
	};
	it('go after a day with their halves; those that a ticket holds stay, struck out ones too', async () => {
		await useFolder();
		const shop = await smallShop();
		const [held, struck, orphan] = [
			await kept(await taken(90, 60)),
			await kept(await taken(80, 60)),
			await kept(await taken(70, 60))
		];
		const number = await takenIn(shop);
		for (const { photo, width, height } of [held, struck])
			await changed(shop, number, { verb: 'photo', photo, of: 'board', width, height });
		await changed(shop, number, { verb: 'withdraw', list: 'photos', index: 1 });
		const folder = process.env.TAVREK_PHOTOS ?? '';
		await mkdir(path.join(folder, 'incoming'), { recursive: true });
		await writeFile(path.join(folder, 'incoming', 'half'), 'x');
		await writeFile(path.join(folder, orphan.photo.slice(0, 2), `${orphan.photo}.jpg.half`), 'x');
		await mkdir(path.join(folder, 'ff'), { recursive: true });
		await writeFile(path.join(folder, 'ff', `${'f'.repeat(64)}.small.jpg`), 'x');
		// younger than a day: its change may be on its way
		expect(await dropOrphanPhotos(shop, Date.now())).toBe(0);
		await old();
		expect(await dropOrphanPhotos(shop, Date.now())).toBe(4);
		expect(await readdir(path.join(folder, 'ff'))).toEqual([]);
		expect(await readPhoto(held.photo, true)).not.toBeNull();
		expect(await keptPhotos()).toEqual([held.photo, struck.photo].sort());
		expect(await readPhoto(orphan.photo, true)).toBeNull();
		expect(await readdir(path.join(folder, 'incoming'))).toEqual([]);
		await shop.destroy();
	});
	it('a full disk is told with what to do', async () => {
		const why = unavailableBy(Object.assign(new Error('no space left on device'), { code: 'ENOSPC' }));
		const answer = unavailableAnswer(why as NonNullable<typeof why>, true);
		expect(answer.status).toBe(507);
		expect(await answer.json()).toMatchObject({
			status: 507,
			title: 'Disk full',
			detail: expect.stringContaining('Make room') as string
		});
	});
});
