import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { TestProject } from 'vitest/node';
import { PrivateDatabase } from '../../scripts/private-database.mjs';

declare module 'vitest' {
	interface ProvidedContext {
		databaseUrl: string;
	}
}

/** A MariaDB of this run's own, in a folder of its own, gone afterwards. */
export default async function setup(project: TestProject) {
	const folder = mkdtempSync(path.join(tmpdir(), 'tavrek-test-'));
	const database = new PrivateDatabase(folder);
	project.provide('databaseUrl', await database.start());
	return async () => {
		await database.stop();
		rmSync(folder, { recursive: true, force: true });
	};
}
