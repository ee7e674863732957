import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as NodeReadableStream } from 'node:stream/web';
import archiver from 'archiver';
import { open as openZip, type Entry, type ZipFile } from 'yauzl';
import { recordAudit } from '../audit/commands';
import type { Database } from '../database/connection';
import { keptPhotos, readPhoto, restorePhoto } from '../photos/store';

/** Pictures as one ZIP beside the JSON Lines: each under the hash that tickets name it by. */

/** No picture that this program keeps is larger. */
const MOST_OF_ONE = 16 * 1024 * 1024;
const MOST_PICTURES = 200_000;
/** All pictures of one file together, unpacked. A choice. */
const MOST_OF_ALL = 16 * 1024 ** 3;
const NAME = /^([0-9a-f]{64})\.jpg$/;

/** All pictures as a stream; nothing is pressed together, they are already. It is noted who took them. */
export async function pictureArchive(
	db: Database,
	actor: string,
	now: number
): Promise<ReadableStream<Uint8Array>> {
	await recordAudit(db, { at: now, actor, subject: 'export', key: 'pictures', verb: 'export', detail: {} });
	const archive = archiver('zip', { store: true });
	// who reads it may be gone before its end: then nothing more is read for them
	const gone = new AbortController();
	archive.once('close', () => gone.abort());
	void (async () => {
		try {
			for (const hash of await keptPhotos()) {
				const data = await readPhoto(hash);
				if (!data) throw new Error(`the picture ${hash} cannot be read`);
				// the next one is read when this one was taken
				const entryDone = once(archive, 'entry', { signal: gone.signal });
				archive.append(data, { name: `${hash}.jpg` });
				await entryDone;
			}
			await archive.finalize();
		} catch (error) {
			if (!gone.signal.aborted) archive.destroy(error as Error);
		}
	})();
	return Readable.toWeb(archive) as unknown as ReadableStream<Uint8Array>;
}

export interface PicturesTaken {
	/** pictures that are kept now, whether or not they were before */
	kept: number;
	/** entries that are no picture of a backup: by their name, their size, or because they hold something else */
	refused: number;
}

/** Takes pictures back from such a ZIP. What is in it is believed only as far as its hash proves. */
export async function takePictures(
	db: Database,
	actor: string,
	now: number,
	body: ReadableStream<Uint8Array>
): Promise<PicturesTaken | { problem: string }> {
	const folder = await mkdtemp(path.join(tmpdir(), 'tavrek-'));
	const file = path.join(folder, `${randomUUID()}.zip`);
	try {
		await pipeline(Readable.fromWeb(body as NodeReadableStream), createWriteStream(file, { mode: 0o600 }));
		const zip = await opened(file);
		if (!zip) return { problem: 'This is no ZIP file; send the one that Tavrek gave out.' };
		const entries = await entriesOf(zip);
		await recordAudit(db, {
			at: now,
			actor,
			subject: 'import',
			key: 'pictures',
			verb: 'import',
			detail: { ...entries }
		});
		return entries;
	} finally {
		await rm(folder, { recursive: true, force: true });
	}
}

const opened = (file: string): Promise<ZipFile | null> =>
	new Promise((resolve) =>
		// names are judged here, entry by entry: one that leads elsewhere is refused and does not stop the others
		openZip(file, { lazyEntries: true, decodeStrings: false }, (error, zip) => resolve(error ? null : zip))
	);

function entriesOf(zip: ZipFile): Promise<PicturesTaken> {
	const summary = { kept: 0, refused: 0 };
	let [seen, budget] = [0, MOST_OF_ALL];
	return new Promise((resolve, reject) => {
		zip.on('error', reject);
		zip.on('end', () => resolve(summary));
		zip.on('entry', (entry: Entry) => {
			budget -= entry.uncompressedSize;
			if (++seen > MOST_PICTURES || budget < 0) {
				zip.close();
				summary.refused += zip.entryCount - seen + 1;
				resolve(summary);
				return;
			}
			void restoreEntry(zip, entry).then((kept) => {
				if (kept) summary.kept += 1;
				else summary.refused += 1;
				zip.readEntry();
			}, reject);
		});
		zip.readEntry();
	});
}

async function restoreEntry(zip: ZipFile, entry: Entry): Promise<boolean> {
	const hash = NAME.exec(String(entry.fileName))?.[1];
	if (!hash || entry.uncompressedSize > MOST_OF_ONE) return false;
	const stream = await new Promise<Readable | null>((resolve) =>
		zip.openReadStream(entry, (error, readable) => resolve(error ? null : readable))
	);
	if (!stream) return false;
	const chunks: Buffer[] = [];
	let size = 0;
	try {
		for await (const chunk of stream as AsyncIterable<Buffer>) {
			size += chunk.length;
			if (size > MOST_OF_ONE) return false;
			chunks.push(chunk);
		}
	} catch {
		return false;
	}
	return restorePhoto(hash, Buffer.concat(chunks));
}
