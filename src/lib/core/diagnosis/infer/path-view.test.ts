import { describe, expect, it } from 'vitest';
import type { PathNode } from '../../charging/power-path';
import { pathView } from './path-view';

const node = (code: string, faults: string[]): PathNode => ({
	node: code,
	label: code,
	volts: { low: 4.75, high: 5.25 },
	faults
});
const NODES = [node('port', ['port-worn']), node('fuse', ['fuse-open'])];
/** the odds put the break at the fuse */
const inference = {
	codes: ['port-worn', 'fuse-open'],
	now: [
		{ set: [0], chance: 0.05 },
		{ set: [1], chance: 0.9 },
		{ set: [], chance: 0.05 }
	]
};
const likeliest = (view: ReturnType<typeof pathView>) => view?.finding.breaks[0]?.to;

describe('the panel of the charging path', () => {
	it('is none for a model that names no nodes', () => {
		const ticket = { path: [], attempts: [] };
		expect(pathView(ticket, undefined, inference)).toBeNull();
		expect(pathView(ticket, [], inference)).toBeNull();
	});
	it('before a repair holds what was measured before one, and breaks where the odds have it', () => {
		const path = [
			{ node: 'port', volts: 5.02, stage: 'diagnosis' as const },
			{ node: 'port', volts: 5.08 },
			{ node: 'fuse', volts: 5, stage: 'after-repair' as const }
		];
		const view = pathView({ path, attempts: [] }, NODES, inference);
		expect(view?.measured).toEqual({ port: 5.08 });
		expect(view?.nodes).toEqual(NODES);
		expect(likeliest(view)).toBe('fuse');
	});
	it('after a try holds what was measured since, and still asks the odds while none has worked', () => {
		const path = [
			{ node: 'port', volts: 0.1 },
			{ node: 'fuse', volts: 5, stage: 'closing' as const }
		];
		const view = pathView({ path, attempts: [{ resolved: false }] }, NODES, inference);
		expect(view?.measured).toEqual({ fuse: 5 });
		expect(likeliest(view)).toBe('fuse');
	});
	it('once a repair has worked, lets the readings after it stand alone', () => {
		const path = [
			{ node: 'port', volts: 5, stage: 'after-repair' as const },
			{ node: 'fuse', volts: 5, stage: 'after-repair' as const }
		];
		const attempts = [{ resolved: false }, { resolved: true }];
		const view = pathView({ path, attempts }, NODES, inference);
		expect(view?.finding.whole).toBeGreaterThan(0.9);
	});
});
