import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../catalog/catalog';
import type { BoardPoint } from '../catalog/kinds-of-devices';
import { STARTER_CATALOG } from '../catalog/starter-catalog';
import { leftToRead, leftWords, stageOfRun } from './port-off-step';
import { openedTicket, type Ticket } from './ticket-record';

const catalog = buildCatalog(STARTER_CATALOG);
const fresh = openedTicket('K-1', 0, 'm');
const entry = (procedure: string, step: number, did: 'begun' | 'done') => ({
	procedure,
	version: catalog.procedures.get(procedure)?.version ?? 1,
	technician: 'ines',
	step,
	did
});
/** A procedure that is followed up to a step. */
const at = (procedure: string, next: number): Ticket => ({
	...fresh,
	steps: [
		entry(procedure, 0, 'begun'),
		...Array.from({ length: next }, (_, step) => entry(procedure, step, 'done'))
	]
});
const mustMeasure = (procedure: string) =>
	(catalog.procedures.get(procedure)?.steps ?? []).findIndex(({ kind, must }) => kind === 'measure' && must);

describe('the stage of a run', () => {
	it.each(['port-hot-air', 'port-low-melt', 'port-cut-and-draw', 'port-off-look'])(
		'%s: port-off at its measurement, and at no other step',
		(procedure) => {
			const place = mustMeasure(procedure);
			expect(place).toBeGreaterThan(0);
			for (let next = 0; next < (catalog.procedures.get(procedure)?.steps.length ?? 0); next++)
				expect(stageOfRun(at(procedure, next), catalog), String(next)).toBe(
					next === place ? 'port-off' : null
				);
		}
	);
	it('nothing where no port comes off, and where nothing is followed', () => {
		expect(mustMeasure('pack-woken')).toBeGreaterThan(0);
		expect(stageOfRun(at('pack-woken', mustMeasure('pack-woken')), catalog)).toBeNull();
		expect(stageOfRun(fresh, catalog)).toBeNull();
	});
});

describe('what is left to be read with the old port off', () => {
	const point = (code: string, when?: 'port-off'): BoardPoint => ({
		code,
		label: code.toUpperCase(),
		ground: 'never',
		...(when ? { when } : {})
	});
	const points = [point('c1', 'port-off'), point('c2'), point('c3', 'port-off')];
	const reading = (pin: string, stage: 'port-off' | 'diagnosis') => ({
		pin,
		stage,
		mode: 'diode' as const,
		value: 0.5
	});
	const words = (ticket: Partial<Ticket>, ofBoard = points) =>
		leftWords(leftToRead({ ...fresh, ...ticket }, ofBoard));
	it('the points that the board names for it, by name', () => {
		expect(words({})).toBe('not read with the old port off: C1, C3');
		expect(words({ readings: [reading('point:c1', 'port-off'), reading('point:c3', 'diagnosis')] })).toBe(
			'not read with the old port off: C3'
		);
		expect(
			words({ readings: [reading('point:c1', 'port-off'), reading('point:c3', 'port-off')] })
		).toBeNull();
	});
	it('without such points anything that was measured then', () => {
		expect(words({}, [point('c2')])).toBe('nothing was measured with the old port off');
		expect(words({ readings: [reading('A4', 'diagnosis')] }, [])).not.toBeNull();
		expect(words({ readings: [reading('A4', 'port-off')] }, [])).toBeNull();
		const seen = { test: 'vbus-ground-off', outcome: 'normal' };
		expect(words({ observations: [{ ...seen, stage: 'port-off' }] }, [])).toBeNull();
		expect(words({ observations: [{ ...seen, stage: 'diagnosis' }] }, [])).not.toBeNull();
	});
});
