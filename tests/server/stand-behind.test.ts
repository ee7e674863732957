import { readFileSync } from 'node:fs';
import os from 'node:os';
import process from 'node:process';
import { Worker } from 'node:worker_threads';
import ts from 'typescript';
import { expect, it } from 'vitest';
import { standBehind } from '$lib/server/worker/stand-behind';

it('a thread beside stands behind the others, and the thread of the pages never does', async () => {
	const before = os.getPriority(process.pid);
	standBehind();
	expect(os.getPriority(process.pid)).toBe(before);
	const source = readFileSync('src/lib/server/worker/stand-behind.ts', 'utf8');
	const { outputText: code } = ts.transpileModule(source, {
		compilerOptions: { module: ts.ModuleKind.CommonJS, esModuleInterop: true }
	});
	const thread = new Worker(
		`${code}
		exports.standBehind();
		const [, id] = /task\\/(\\d+)/.exec(require('node:fs').readlinkSync('/proc/thread-self'));
		require('node:worker_threads').parentPort.postMessage(require('node:os').getPriority(Number(id)));`,
		{ eval: true }
	);
	const niceness = await new Promise((resolve, reject) => {
		thread.once('message', resolve);
		thread.once('error', reject);
	});
	expect(niceness).toBe(before + 5);
	expect(os.getPriority(process.pid)).toBe(before);
});
