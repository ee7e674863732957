import { describe, expect, it } from 'vitest';
import { found, oddsBetween, seen, type Asked } from '$worlds/trade-shop';

/**
 * How much each piece of evidence moves the odds of a fault in an empty shop with the starter catalog, against a fault that it does not
 * speak of. The wanted factors are the trade's common practice, no source. A belief that is stated is damped by the doubt about it (nine of
 * ten at first), so a factor is met within half as much again; none turns into its opposite.
 */
const look = (orientation: 'a' | 'b', amps: number, more: object = {}) => ({
	stage: 'intake' as const,
	orientation,
	volts: 5.1,
	amps,
	seconds: 20,
	...more
});
const both = (amps: number, more: object = {}) => [look('a', amps, more), look('b', amps, more)];
const sign = (code: string): Asked => ({ signs: { [code]: true } });
const test = (code: string, outcome: string): Asked => ({ observations: found([code, outcome]) });
const volts = (value: number): Asked => ({ battery: [{ stage: 'diagnosis', volts: value }] });
const pads = (number: number): Asked => ({ counts: [{ what: 'pads', number }] });

interface Row {
	says: string;
	asked: Asked;
	wanted: Record<string, number>;
	/** a fault that it does not speak of */
	silent: string;
	/** what was known before */
	before?: Asked;
}
const row = (
	says: string,
	asked: Asked,
	wanted: Record<string, number>,
	silent = 'software',
	before: Asked = {}
): Row => ({ says, asked: { ...before, ...asked }, wanted, silent, before });
const CHIPS = ['port-controller', 'charge-controller', 'other-chip'];
const all = (codes: readonly string[], factor: number) =>
	Object.fromEntries(codes.map((code) => [code, factor]));
const COILED: Asked = { model: 'coiled' };
const DOCKED: Asked = { model: 'docked' };
const FLEXED: Asked = { model: 'flexed' };
const SOUND: Asked = { inspection: seen('straight') };

const SIGNS: readonly Row[] = [
	row(
		'drops out',
		sign('drops-out'),
		{
			'port-joints': 5,
			'port-contacts': 3.5,
			'port-debris': 1.5,
			accessory: 2
		},
		'board-corrosion'
	),
	row('drops out, on a flex', sign('drops-out'), { 'charge-flex': 3 }, 'board-corrosion', FLEXED),
	row('port replaced by others', sign('port-replaced'), {
		'torn-pads': 4,
		'port-joints': 3,
		'port-controller': 1.4,
		'charge-controller': 1.4,
		'input-fuse': 1.4,
		'port-contacts': 0.5,
		'port-debris': 0.5
	}),
	row('battery replaced by others', sign('battery-replaced'), {
		'battery-connector': 5,
		'battery-plug': 3,
		'battery-worn': 0.5
	}),
	row('opened before', sign('opened-before'), { 'torn-pads': 2, 'battery-connector': 3, 'battery-plug': 2 }),
	row('wrong charger', sign('wrong-charger'), {
		'port-controller': 4,
		'input-fuse': 4,
		'display-controller': 3,
		'charge-controller': 3,
		'shorted-capacitor': 2
	}),
	row('burnt smell', sign('burnt-smell'), {
		'port-contacts': 2,
		'shorted-capacitor': 3,
		...all(CHIPS, 2.5)
	}),
	row('burnt smell, on a flex', sign('burnt-smell'), { 'charge-flex': 3 }, 'software', FLEXED),
	row('got wet', sign('got-wet'), { 'board-corrosion': 12 }),
	row('long unused', sign('long-unused'), { 'battery-flat': 8, 'battery-worn': 2 }),
	row('no lamp', sign('no-lamp'), {
		'input-fuse': 2,
		'port-joints': 2,
		'port-controller': 2,
		accessory: 1.5
	}),
	row('flex function lost', sign('flex-function-lost'), { 'charge-flex': 8 }, 'software', FLEXED),
	row('restarts', sign('restarts'), { 'battery-worn': 2, 'battery-connector': 2 }, 'line-filter'),
	row('restarts, on a flex', sign('restarts'), { 'charge-flex': 3 }, 'line-filter', FLEXED),
	row(
		'charges wirelessly only',
		sign('wireless-only'),
		{ 'port-contacts': 2.5, 'port-joints': 2.5 },
		'software',
		COILED
	),
	row('lint seen', sign('lint-seen'), { 'port-debris': 12 })
];

const CHECKS: readonly Row[] = [
	row('known good cable changes nothing', test('cable-known-good', 'no-change'), { accessory: 0.05 }),
	row('known good port charges', test('port-known-good', 'charges'), {
		'port-contacts': 15,
		'port-joints': 15
	}),
	row(
		'no picture on a known good display',
		test('display-known-good', 'no-picture'),
		{ 'display-controller': 3, 'port-contacts': 2 },
		'line-filter',
		DOCKED
	),
	row('known good battery charges', test('battery-swap', 'charges'), {
		'battery-worn': 15,
		'battery-flat': 15
	}),
	row(
		'charges on a wireless charger',
		test('wireless-try', 'charges'),
		{
			'battery-worn': 0.15,
			'charge-controller': 0.15,
			...all(['port-contacts', 'port-joints', 'port-controller', 'input-fuse'], 2.5)
		},
		'software',
		COILED
	),
	row('capacitor of the port chip', test('chip-caps', 'port-chip'), {
		'port-controller': 20,
		'shorted-capacitor': 6
	}),
	row('capacitor of the charge chip', test('chip-caps', 'charge-chip'), {
		'charge-controller': 20,
		'shorted-capacitor': 6
	}),
	row('capacitor of another chip', test('chip-caps', 'other-chip'), {
		'other-chip': 20,
		'shorted-capacitor': 6
	}),
	row(
		'capacitor of the display chip',
		test('chip-caps', 'display-chip'),
		{ 'display-controller': 25, 'shorted-capacitor': 6 },
		'software',
		DOCKED
	),
	row('tester sees no battery', test('cc-tester', 'no-battery'), {
		...all(['battery-plug', 'battery-connector', 'battery-worn'], 6),
		'port-contacts': 0.1
	})
];

const MEASURED: readonly Row[] = [
	row(
		'nothing on both sides, contacts sound',
		{ meter: both(0) },
		{
			'input-fuse': 3,
			'port-controller': 2.5,
			'port-joints': 2,
			'torn-pads': 2,
			'charge-controller': 1.5,
			'battery-worn': 0.2
		},
		'board-corrosion',
		SOUND
	),
	row('cut off', volts(0), { 'battery-flat': 10, 'battery-plug': 1, 'battery-worn': 1.3 }),
	row('under its precharge', volts(2.6), { 'battery-flat': 6 }),
	row('far under it', volts(1.8), { 'battery-flat': 6 }),
	row(
		'shell bent',
		{ inspection: [{ place: 'shell', state: 'bent' }] },
		{
			'port-joints': 3,
			'port-contacts': 2,
			'torn-pads': 3
		}
	),
	row('tongue missing', { inspection: [{ place: 'tongue', state: 'missing' }] }, { 'port-contacts': 20 }),
	row('sound contacts and tongue', SOUND, { 'port-contacts': 0.12 }),
	row('no pad torn', pads(0), { 'torn-pads': 0.1 })
];

describe.each([
	['signs', SIGNS],
	['known good parts and tests', CHECKS],
	['what is measured and seen', MEASURED]
])('%s', (_, rows) => {
	it.each(rows)('$says', ({ asked, wanted, silent, before = {} }) => {
		for (const [code, factor] of Object.entries(wanted)) {
			const moved = oddsBetween(asked, code, silent) / oddsBetween(before, code, silent);
			expect(moved / factor, `${code}: ${moved.toPrecision(2)} for ${factor}`).toBeGreaterThan(1 / 1.6);
			expect(moved / factor, `${code}: ${moved.toPrecision(2)} for ${factor}`).toBeLessThan(1.6);
		}
	});
});

describe('pads that are counted', () => {
	it.each([
		[1, 60],
		[3, 200]
	])('%i torn: at least %i times', (number, factor) =>
		expect(
			oddsBetween(pads(number), 'torn-pads', 'software') / oddsBetween({}, 'torn-pads', 'software')
		).toBeGreaterThan(factor)
	);
});

describe('what rules out', () => {
	const healthy = { meter: both(1.5) };
	it.each(['port-contacts', 'port-joints', 'torn-pads', 'input-fuse', 'port-controller', 'line-filter'])(
		'healthy on both sides: %s at most an eighth',
		(code) => {
			const moved = oddsBetween(healthy, code, 'software') / oddsBetween({}, code, 'software');
			expect(moved).toBeLessThan(0.125);
		}
	);
	it('dropping out when it is moved: a chip at most four tenths as often', () => {
		const moved = sign('drops-out');
		for (const code of CHIPS)
			expect(
				oddsBetween(moved, code, 'board-corrosion') / oddsBetween({}, code, 'board-corrosion'),
				code
			).toBeLessThan(0.4);
	});
	it('another cable charges: the user’s own before all else', () =>
		expect(
			oddsBetween(test('cable-known-good', 'charges'), 'accessory', 'port-contacts') /
				oddsBetween({}, 'accessory', 'port-contacts')
		).toBeGreaterThan(100));
	it('one side only: nothing behind the port', () => {
		const oneSide = { meter: [look('a', 0), look('b', 1.5)] };
		for (const code of ['charge-controller', 'battery-worn', 'coil-open'])
			expect(
				oddsBetween(oneSide, code, 'port-contacts') / oddsBetween({}, code, 'port-contacts'),
				code
			).toBeLessThan(0.15);
		expect(oddsBetween(oneSide, 'port-contacts', 'port-joints')).toBeGreaterThan(
			oddsBetween({}, 'port-contacts', 'port-joints')
		);
	});
});
