import { error } from '@sveltejs/kit';
import type { Instant } from '$lib/core/units/instant';
import type { Database } from '../database/connection';
import { countLook } from '../identity/attempts';
import { ownPage, type OwnPage } from './own-page';

const tooMany = (seconds: number): never =>
	error(429, `Too many looks from where you are. Try again in ${Math.ceil(seconds / 60)} minutes.`);

/** The page that a link opens, counted against who asks; a link that is none, or has ended, is told alike. */
export async function openOwnPage(
	db: Database,
	{ number = '', seal = '' }: { number?: string; seal?: string },
	address: string,
	now: Instant
): Promise<OwnPage> {
	const wait = await countLook(db, 'look', address);
	if (wait !== null) tooMany(wait);
	const page = await ownPage(db, { number, seal, now });
	if (page) return page;
	const guessed = await countLook(db, 'guess', address);
	if (guessed !== null) tooMany(guessed);
	error(404, 'This page is not there, or has ended. Ask the shop where your device stands.');
}
