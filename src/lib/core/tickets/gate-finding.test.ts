import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../catalog/catalog';
import { plugContext } from '../charging/judge-plug-in';
import { DEMO_CATALOG } from '../simulation/demo-catalog';
import { gateFinding } from './gate-finding';
import { openedTicket, type Ticket } from './ticket-record';

const catalog = buildCatalog(DEMO_CATALOG);
const of = (model: string) => ({
	plug: plugContext(catalog, model, null),
	connector: catalog.connectors.get(catalog.models.get(model)?.connector ?? '') ?? null,
	drainPerHour: 9
});
const look = (
	amps: number,
	orientation: 'a' | 'b' | undefined,
	more: Partial<Ticket['meter'][number]> = {}
): Ticket['meter'][number] => ({
	stage: 'after-repair',
	volts: 5.05,
	amps,
	seconds: 20,
	...(orientation ? { orientation } : {}),
	...more
});
const seen = (
	shownBy: 'current' | 'continuity' | 'soak' | null,
	ticket: Partial<Ticket>,
	{ model = 'tern-9', undoneAt = 0 } = {}
) => gateFinding({ shownBy, undoneAt }, { ...openedTicket('K-1', 0, model), ...ticket }, of(model));

describe('a gate that currents answer', () => {
	it.each<[string, Ticket['meter'], boolean | null | undefined, string]>([
		['healthy both ways', [look(1, 'a'), look(0.95, 'b')], true, 'healthy current both ways'],
		['slow one way', [look(1, 'a'), look(0.5, 'b')], false, 'side B: slow charge'],
		['nothing either way', [look(0, 'a'), look(0, 'b')], false, 'side A: no current; side B: no current'],
		['one way not looked at', [look(1, 'a')], null, 'side B not looked at yet'],
		[
			'the latest of each way counts',
			[look(0, 'a'), look(1, 'b'), look(1, 'a')],
			true,
			'healthy current both ways'
		],
		[
			'too early to say',
			[look(0, 'a', { seconds: 1 }), look(1, 'b')],
			null,
			'side A: too early to say; side B: healthy current'
		],
		[
			'before the repair says nothing',
			[look(1, 'a', { stage: 'diagnosis' }), look(1, 'b', { stage: 'intake' })],
			undefined,
			''
		]
	])('%s', (_, meter, passed, words) => {
		const found = seen('current', { meter });
		expect(found?.passed).toBe(passed);
		expect(found?.words ?? '').toBe(words);
	});
	it('one way is enough where the port has no other', () => {
		expect(seen('current', { meter: [look(0.7, undefined)] }, { model: 'tern-6' })).toEqual({
			passed: true,
			words: 'healthy current'
		});
	});
	it('what was taken before the last work that may have undone it says nothing', () => {
		const meter = [look(1, 'a', { at: 4 }), look(1, 'b', { at: 6 })];
		expect(seen('current', { meter }, { undoneAt: 5 })?.words).toBe('side A not looked at yet');
		expect(seen('current', { meter }, { undoneAt: 4 })?.passed).toBe(true);
		expect(seen('current', { meter }, { undoneAt: 7 })).toBeNull();
	});
});

describe('gates that other measurements answer', () => {
	it('continuity, by its last check', () => {
		const check = (...misses: [string, string][]) => ({ misses, probes: 12 });
		expect(seen('continuity', { continuity: [] })).toBeNull();
		expect(seen('continuity', { continuity: [check(['A4', 'B9']), check()] })).toEqual({
			passed: true,
			words: '12 pairs correct'
		});
		expect(seen('continuity', { continuity: [check(), check(['A4', 'B9'])] })).toEqual({
			passed: false,
			words: 'wrong at A4–B9'
		});
	});
	it('a soak', () => {
		const soak = (...percents: number[]) => percents.map((percent, i) => ({ minutes: 30 * i, percent }));
		expect(seen('soak', { soak: [] })).toBeNull();
		expect(seen('soak', { soak: soak(96) })?.passed).toBeNull();
		expect(seen('soak', { soak: soak(96, 92, 87) })?.passed).toBe(true);
		expect(seen('soak', { soak: soak(96, 80, 60) })?.passed).toBe(false);
	});
	it('none where the gate names none', () => {
		expect(seen(null, { meter: [look(0, 'a')], continuity: [{ misses: [], probes: 1 }] })).toBeNull();
	});
});
