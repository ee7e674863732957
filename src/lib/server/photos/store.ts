import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { access, mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as NodeReadableStream } from 'node:stream/web';
import sharp, { type OutputInfo, type Sharp } from 'sharp';
import type { Refusal } from '$lib/core/tickets/refusal';

/**
 * Pictures as files beside the database, named by the SHA-256 of what they hold. What comes in is turned upright, made smaller and
 * written anew: where it was taken, with what and when goes with the metadata that is left behind.
 */

/** Pixels of the longer side, and of the small one for lists. Choices. */
const LONGER_SIDE = 2000;
const SMALL_SIDE = 360;
const QUALITY = 82;
/** A picture with more pixels is refused before it is unpacked. */
const MOST_PIXELS = 60_000_000;
const FORMATS = ['jpeg', 'png', 'webp'];

// one picture after another: a bench's pictures must not take the server from those who type
sharp.concurrency(1);
sharp.cache(false);

export interface KeptPhoto {
	photo: string;
	width: number;
	height: number;
}

const folder = () => path.resolve(process.env.TAVREK_PHOTOS ?? path.join('.data', 'photos'));
const HASH = /^[0-9a-f]{64}$/;
/** Pictures on their way in. */
const INCOMING = 'incoming';
const fileOf = (hash: string, small = false) =>
	path.join(folder(), hash.slice(0, 2), `${hash}${small ? '.small' : ''}.jpg`);

let last: Promise<unknown> = Promise.resolve();

/**
 * Keeps a picture; the same one twice is one file. It goes to disk as it comes, and pictures are worked on one at a time: many at once
 * take no more memory than one.
 * @returns what is wrong with it, where it is none
 */
export async function keepPhoto(body: ReadableStream<Uint8Array> | Uint8Array): Promise<KeptPhoto | Refusal> {
	const file = path.join(folder(), INCOMING, randomUUID());
	try {
		await mkdir(path.dirname(file), { recursive: true, mode: 0o700 });
		const bytes = body instanceof Uint8Array ? [body] : Readable.fromWeb(body as NodeReadableStream);
		await pipeline(bytes, createWriteStream(file, { mode: 0o600 }));
		const kept = last.then(() => keepNow(file));
		last = kept.catch(() => undefined);
		return await kept;
	} finally {
		await rm(file, { force: true });
	}
}

async function keepNow(file: string): Promise<KeptPhoto | Refusal> {
	const made = await remade(file);
	if ('message' in made) return made;
	const { data, info } = made;
	const photo = createHash('sha256').update(data).digest('hex');
	await putPhoto(photo, data);
	return { photo, width: info.width, height: info.height };
}

/** A picture turned upright, made smaller and written anew; what is wrong with it, where it is none. */
async function remade(file: string): Promise<{ data: Buffer; info: OutputInfo } | Refusal> {
	try {
		const opened = sharp(file, { limitInputPixels: MOST_PIXELS, failOn: 'error' });
		const { format } = await opened.metadata();
		if (!FORMATS.includes(format))
			return refusePhoto(`is ${format}; send a picture as ${FORMATS.join(', ')}`);
		return await resized(opened.rotate(), LONGER_SIDE)
			.flatten({ background: '#ffffff' })
			.jpeg({ quality: QUALITY })
			.toBuffer({ resolveWithObject: true });
	} catch {
		return refusePhoto(
			`cannot be read as a picture; send ${FORMATS.join(', ')} of at most ${MOST_PIXELS / 1_000_000} million pixels`
		);
	}
}

const resized = (picture: Sharp, side: number): Sharp =>
	picture.resize({ width: side, height: side, fit: 'inside', withoutEnlargement: true });

const refusePhoto = (message: string): Refusal => ({ field: 'photo', message });

/** Writes a picture that was made before, with its small one, so that no half of it is ever read. */
async function putPhoto(hash: string, data: Buffer): Promise<void> {
	if (await photoIsKept(hash)) return;
	await mkdir(path.dirname(fileOf(hash)), { recursive: true, mode: 0o700 });
	const small = await resized(sharp(data), SMALL_SIDE).jpeg({ quality: QUALITY }).toBuffer();
	// the large one last: it is what says that the picture is kept
	const files = [
		[fileOf(hash, true), small],
		[fileOf(hash), data]
	] as const;
	try {
		for (const [file, bytes] of files) {
			const making = `${file}.${randomUUID()}`;
			try {
				await writeFile(making, bytes, { mode: 0o600 });
				await rename(making, file);
			} catch (error) {
				await rm(making, { force: true });
				throw error;
			}
		}
	} catch (error) {
		// a full disk: nothing of it is left behind
		await rm(fileOf(hash, true), { force: true });
		throw error;
	}
}

/**
 * Takes a picture of a backup back, where its name is what it holds and it is one that this program wrote: a JPEG that says nothing of
 * where and with what it was taken.
 * @returns false where it is something else; throws where it could not be written
 */
export async function restorePhoto(hash: string, data: Buffer): Promise<boolean> {
	if (!HASH.test(hash) || createHash('sha256').update(data).digest('hex') !== hash) return false;
	if (!(await isOwnPicture(data))) return false;
	await putPhoto(hash, data);
	return true;
}

async function isOwnPicture(data: Buffer): Promise<boolean> {
	try {
		const { format, exif, xmp, iptc, icc } = await sharp(data, {
			limitInputPixels: MOST_PIXELS,
			failOn: 'error'
		}).metadata();
		return format === 'jpeg' && !exif && !xmp && !iptc && !icc;
	} catch {
		return false;
	}
}

export const photoIsKept = (hash: string): Promise<boolean> =>
	HASH.test(hash)
		? access(fileOf(hash)).then(
				() => true,
				() => false
			)
		: Promise.resolve(false);

/** A kept picture, or null. */
export const readPhoto = (hash: string, small = false): Promise<Buffer<ArrayBuffer> | null> =>
	HASH.test(hash)
		? (readFile(fileOf(hash, small)) as Promise<Buffer<ArrayBuffer>>).catch(() => null)
		: Promise.resolve(null);

/** Removes a picture; one that is not there is gone already. */
export async function dropPhoto(hash: string): Promise<void> {
	if (!HASH.test(hash)) return;
	// the large one first: it is what says that the picture is kept
	for (const file of [fileOf(hash), fileOf(hash, true)]) await rm(file, { force: true });
}

const namesIn = async (folder: string): Promise<string[]> =>
	readdir(folder).catch((error: NodeJS.ErrnoException) => {
		// none was ever kept; a folder that cannot be read is no empty one: a backup must not leave it out in silence
		if (error.code === 'ENOENT') return [];
		throw error;
	});

/** Every file of the folder, whole pictures, small ones and halves. */
async function allFiles(): Promise<string[]> {
	const parts = await namesIn(folder());
	const files = await Promise.all(
		parts.map(async (part) =>
			(await namesIn(path.join(folder(), part))).map((name) => path.join(folder(), part, name))
		)
	);
	return files.flat();
}

const PICTURE = /^([0-9a-f]{64})\.jpg$/;
const SMALL = /^([0-9a-f]{64})\.small\.jpg$/;

/** The names of all that are kept, in their order. */
export async function keptPhotos(): Promise<string[]> {
	return (await allFiles()).flatMap((file) => PICTURE.exec(path.basename(file))?.[1] ?? []).sort();
}

/** Files that were written before a moment: pictures by their hash, and halves that a process left which died while it wrote. */
export async function photosBefore(moment: number): Promise<{ pictures: string[]; halves: string[] }> {
	const found = { pictures: [] as string[], halves: [] as string[] };
	const files = await allFiles();
	const whole = new Set(files.map((file) => PICTURE.exec(path.basename(file))?.[1]));
	for (const file of files) {
		const stats = await stat(file).catch(() => null);
		if (!stats || stats.mtimeMs >= moment) continue;
		const name = path.basename(file);
		const hash = PICTURE.exec(name)?.[1];
		if (hash) found.pictures.push(hash);
		// a small one goes with its picture; without one it is a half like any other
		else if (!whole.has(SMALL.exec(name)?.[1] ?? 'none')) found.halves.push(file);
	}
	return found;
}

/** Removes halves. */
export async function dropHalves(files: readonly string[]): Promise<void> {
	for (const file of files) await rm(file, { force: true });
}
