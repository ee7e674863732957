import { STARTER_CATALOG } from '$lib/core/catalog/starter-catalog';
import { putCatalogRecords } from '../catalog/commands';
import { inTransaction, type Database } from '../database/connection';
import { makeFirstManager, type UserAnswer } from '../identity/users';

/** The first visit: the manager's account, the shop's settings and, if wished, the trade's usual catalog. */
export async function openShop(
	db: Database,
	now: number,
	request: {
		signIn: string;
		name: string;
		password: string;
		shop: string;
		currency: string;
		timeZone: string;
		locale: string;
		starter?: 'on' | undefined;
	}
): Promise<UserAnswer> {
	const { signIn, name, password } = request;
	const answer = await makeFirstManager(db, now, { signIn, name, password });
	if (!answer.ok) return answer;
	await inTransaction(db, (trx) =>
		putCatalogRecords(trx, [
			{
				record: 'shop',
				name: request.shop,
				currency: request.currency,
				time_zone: request.timeZone,
				locale: request.locale
			},
			...(request.starter ? STARTER_CATALOG : [])
		])
	);
	return answer;
}
