import { createHash, randomUUID } from 'node:crypto';
import { access, mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
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
const fileOf = (hash: string, small = false) =>
	path.join(folder(), hash.slice(0, 2), `${hash}${small ? '.small' : ''}.jpg`);

let last: Promise<unknown> = Promise.resolve();

/** Keeps a picture; the same one twice is one file. One at a time. @returns what is wrong with it, where it is none */
export function keepPhoto(bytes: Uint8Array): Promise<KeptPhoto | Refusal> {
	const kept = last.then(() => keepNow(bytes));
	last = kept.catch(() => undefined);
	return kept;
}

async function keepNow(bytes: Uint8Array): Promise<KeptPhoto | Refusal> {
	const made = await remade(bytes);
	if ('message' in made) return made;
	const { data, info } = made;
	const photo = createHash('sha256').update(data).digest('hex');
	await putPhoto(photo, data);
	return { photo, width: info.width, height: info.height };
}

/** A picture turned upright, made smaller and written anew; what is wrong with it, where it is none. */
async function remade(bytes: Uint8Array): Promise<{ data: Buffer; info: OutputInfo } | Refusal> {
	try {
		const opened = sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: 'error' });
		const { format } = await opened.metadata();
		if (!FORMATS.includes(format))
			return refusePhoto(`is ${format}; send a picture as ${FORMATS.join(', ')}`);
		return await within(opened.rotate(), LONGER_SIDE)
			.flatten({ background: '#ffffff' })
			.jpeg({ quality: QUALITY })
			.toBuffer({ resolveWithObject: true });
	} catch {
		return refusePhoto(
			`cannot be read as a picture; send ${FORMATS.join(', ')} of at most ${MOST_PIXELS / 1_000_000} million pixels`
		);
	}
}

const within = (picture: Sharp, side: number): Sharp =>
	picture.resize({ width: side, height: side, fit: 'inside', withoutEnlargement: true });

const refusePhoto = (message: string): Refusal => ({ field: 'photo', message });

/** Writes a picture that was made before, with its small one, so that no half of it is ever read. */
async function putPhoto(hash: string, data: Buffer): Promise<void> {
	if (await photoIsKept(hash)) return;
	await mkdir(path.dirname(fileOf(hash)), { recursive: true, mode: 0o700 });
	const small = await within(sharp(data), SMALL_SIDE).jpeg({ quality: QUALITY }).toBuffer();
	// the large one last: it is what says that the picture is kept
	for (const [file, bytes] of [
		[fileOf(hash, true), small],
		[fileOf(hash), data]
	] as const) {
		const making = `${file}.${randomUUID()}`;
		await writeFile(making, bytes, { mode: 0o600 });
		await rename(making, file);
	}
}

/** Takes a picture of a backup back, where its name is what it holds. @returns false where it is something else */
export async function restorePhoto(hash: string, data: Buffer): Promise<boolean> {
	if (!HASH.test(hash) || createHash('sha256').update(data).digest('hex') !== hash) return false;
	try {
		await putPhoto(hash, data);
		return true;
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

/** The names of all that are kept, in their order. */
export async function keptPhotos(): Promise<string[]> {
	const parts = await readdir(folder()).catch((error: NodeJS.ErrnoException) => {
		// none was ever kept; a folder that cannot be read is no empty one: a backup must not leave it out in silence
		if (error.code === 'ENOENT') return [];
		throw error;
	});
	const names = await Promise.all(parts.map((part) => readdir(path.join(folder(), part))));
	return names
		.flat()
		.filter((name) => /^[0-9a-f]{64}\.jpg$/.test(name))
		.map((name) => name.slice(0, 64))
		.sort();
}
