import type { Knex } from 'knex';
import * as house from './migrations/001-house';
import * as predictions from './migrations/002-predictions';
import * as doors from './migrations/003-doors';
import * as drawnTables from './migrations/004-drawn-tables';
import * as partsOfWork from './migrations/005-parts-of-work';
import * as shelf from './migrations/006-shelf';
import * as money from './migrations/007-money';
import * as bench from './migrations/008-bench';
import * as returns from './migrations/009-returns';
import * as lookedUp from './migrations/010-looked-up';
import * as shownViews from './migrations/011-shown';
import * as leftBehind from './migrations/012-left-behind';
import * as learnt from './migrations/013-learnt';
import * as runningBy from './migrations/014-running-by';

interface Migration {
	name: string;
	run: { up(db: Knex): Promise<void>; down(db: Knex): Promise<void> };
}

/** A fixed list, so that every way to start runs the same migrations under the same names. */
const MIGRATIONS: Migration[] = [
	{ name: '001-house', run: house },
	{ name: '002-predictions', run: predictions },
	{ name: '003-doors', run: doors },
	{ name: '004-drawn-tables', run: drawnTables },
	{ name: '005-parts-of-work', run: partsOfWork },
	{ name: '006-shelf', run: shelf },
	{ name: '007-money', run: money },
	{ name: '008-bench', run: bench },
	{ name: '009-returns', run: returns },
	{ name: '010-looked-up', run: lookedUp },
	{ name: '011-shown', run: shownViews },
	{ name: '012-left-behind', run: leftBehind },
	{ name: '013-learnt', run: learnt },
	{ name: '014-running-by', run: runningBy }
];

class ListSource implements Knex.MigrationSource<Migration> {
	constructor(private readonly last: string | undefined) {}
	async getMigrations() {
		const at = MIGRATIONS.findIndex(({ name }) => name === this.last);
		return at < 0 ? MIGRATIONS : MIGRATIONS.slice(0, at + 1);
	}
	getMigrationName({ name }: Migration) {
		return name;
	}
	async getMigration({ run }: Migration) {
		return run;
	}
}

/**
 * Brings the schema up to date. Processes that start together take turns through a named lock; Knex's
 * own lock row is freed first, since a process killed in the middle leaves it set. Every migration can
 * be run again after it was cut off (MariaDB commits each statement that changes the schema).
 * @param last the migration to stop at, to stand where an earlier version stood; all of them where it is left out
 */
export async function migrate(db: Knex, last?: string): Promise<void> {
	const source = { migrationSource: new ListSource(last) };
	const lock = 'tavrek-migrate';
	const connection = (await db.client.acquireConnection()) as unknown;
	try {
		await db.raw('SELECT GET_LOCK(?, 60)', [lock]).connection(connection);
		const [, pending] = (await db.migrate.list(source)) as [unknown[], unknown[]];
		if (pending.length === 0) return;
		await db.migrate.forceFreeMigrationsLock(source);
		await db.migrate.latest({ ...source, disableTransactions: true });
	} finally {
		await db
			.raw('SELECT RELEASE_LOCK(?)', [lock])
			.connection(connection)
			.catch(() => undefined);
		await db.client.releaseConnection(connection);
	}
}
