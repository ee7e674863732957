import { boardPictures } from '$lib/core/catalog/catalog';
import { DAY_MS, type Instant } from '$lib/core/units/instant';
import { catalogNow } from '../catalog/queries';
import { inChunks } from '../database/chunks';
import type { Database, Queryable } from '../database/connection';
import { asJson, type StoredJson } from '../database/json';
import { dropHalves, dropPhoto, photosBefore } from '../photos/store';

/** A picture that was sent may wait so long for the change that names it: the line may be away. A choice. */
const WAITS_MS = DAY_MS;
const CHUNK = 5000;

/** Notes for which ticket a picture was sent, so that erasing finds it where no change ever named it. */
export const noteUpload = (db: Queryable, photo: string, ticketId: number, now: Instant): Promise<unknown> =>
	db('photo_uploads')
		.insert({ photo, ticket_id: ticketId, at: new Date(now) })
		.onConflict(['photo', 'ticket_id'])
		.merge();

/** Pictures that were sent for some tickets. */
export const uploadsOf = async (db: Queryable, ticketIds: readonly number[]): Promise<string[]> =>
	await db('photo_uploads')
		.whereIn('ticket_id', [...ticketIds])
		.pluck('photo');

type PhotoList = StoredJson<string[]> | null;

/** The pictures that tickets hold, struck out ones too, and those of boards. */
async function heldPhotos(db: Database): Promise<Set<string>> {
	const pictures = boardPictures(await catalogNow(db));
	const read = (afterId: number) =>
		db('tickets')
			.where('id', '>', afterId)
			.whereRaw(`record LIKE '%"photo"%'`)
			.orderBy('id')
			.limit(CHUNK)
			.select<{ id: number; photos: PhotoList; struck: PhotoList }[]>(
				'id',
				db.raw("JSON_EXTRACT(record, '$.photos[*].photo') AS photos"),
				db.raw("JSON_EXTRACT(record, '$.struck[*].entry.photo') AS struck")
			);
	for await (const rows of inChunks(CHUNK, read)) {
		for (const { photos, struck } of rows)
			for (const list of [photos, struck]) for (const photo of asJson(list) ?? []) pictures.add(photo);
	}
	return pictures;
}

/** Removes pictures, and halves of them, that no ticket and no board holds a day after they came. @returns how many */
export async function dropOrphanPhotos(db: Database, now: Instant): Promise<number> {
	const { pictures, halves } = await photosBefore(now - WAITS_MS);
	await dropHalves(halves);
	await db('photo_uploads')
		.where('at', '<', new Date(now - WAITS_MS))
		.delete();
	if (pictures.length === 0) return halves.length;
	const photos = await heldPhotos(db);
	const orphans = pictures.filter((photo) => !photos.has(photo));
	for (const photo of orphans) await dropPhoto(photo);
	return orphans.length + halves.length;
}
