import { simulateShop } from '$lib/core/simulation/demo-shop';
import { HOUR_MS } from '$lib/core/units/instant';
import type { Role } from '$lib/core/units/role';
import type { Database } from '../database/connection';
import { importLines } from '../exchange/import';
import { addUser, hasUsers } from '../identity/users';

/** Sign-ins of the demo shop, printed at start. For a shop of invented people on loopback only. */
const DEMO_PASSWORD = 'saltmarsh-demo';
const DEMO_USERS: { signIn: string; name: string; role: Role; technician: string | null }[] = [
	{ signIn: 'odile', name: 'Odile', role: 'manager', technician: null },
	{ signIn: 'pia', name: 'Pia', role: 'counter', technician: null },
	{ signIn: 'ines', name: 'Ines', role: 'technician', technician: 'ines' },
	{ signIn: 'tomasz', name: 'Tomasz', role: 'technician', technician: 'tomasz' },
	{ signIn: 'noor', name: 'Noor', role: 'technician', technician: 'noor' },
	{ signIn: 'bram', name: 'Bram', role: 'technician', technician: 'bram' }
];

const DEMO_SEED = 4600;
const DEMO_TICKETS = 1400;

/** The lines of the demo shop as it stands at a moment. */
export function demoLines(now: number): string {
	const endsAt = Math.floor(now / HOUR_MS) * HOUR_MS;
	const { records } = simulateShop({ seed: DEMO_SEED, endsAt, count: DEMO_TICKETS, troubled: true });
	return records.map((record) => JSON.stringify(record)).join('\n');
}

/** Fills an empty shop with the demo shop, through the same import that a shop uses. */
export async function fillDemoShop(db: Database, now: number): Promise<boolean> {
	const filled = await db('catalog').first('id');
	if (!filled) {
		const { rejected } = await importLines(db, 'demo', now, demoLines(now));
		if (rejected.length > 0) throw new Error(`demo shop refused: ${JSON.stringify(rejected[0])}`);
	}
	if (!(await hasUsers(db))) {
		for (const user of DEMO_USERS) {
			await addUser(db, 'demo', now, { ...user, password: DEMO_PASSWORD });
		}
	}
	return !filled;
}
