// A way back in for a manager who is alone: from the machine's own shell, whoever may read the shop's data folder.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import process from 'node:process';
import { PrivateDatabase } from './private-database.mjs';
import { ensurePackages, ensurePrograms, root, stop } from './setup.mjs';

const name = process.argv[2];
if (!name) stop('say whose: npm run reset-password -- NAME, the name that is signed in with');
await ensurePackages();
const own = !process.env.DATABASE_URL;
if (own) await ensurePrograms();
const database = own ? new PrivateDatabase(path.resolve(root, process.env.TAVREK_DATA ?? '.data')) : null;
const ran = database?.livePid() != null;
if (database) process.env.DATABASE_URL = await database.start();
const done = spawnSync(
	path.join(root, 'node_modules/.bin/tsx'),
	['--tsconfig', path.join(root, 'tsconfig.json'), path.join(root, 'scripts/one-time-password.ts'), name],
	{ stdio: 'inherit', env: process.env }
);
if (database && !ran) await database.stop();
process.exit(done.status ?? 1);
