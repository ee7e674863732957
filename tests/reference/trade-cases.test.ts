import { describe, expect, it } from 'vitest';
import type { Evidence } from '$lib/core/diagnosis/learn/evidence';
import { ask, found, seen, type Told } from '$worlds/trade-shop';

/**
 * What a practitioner expects of an empty shop with the starter catalog. Every case is common practice of the trade, no source: one row says
 * what was seen, and what must or must not be advised then. Each rule has a case in which it must not apply.
 */
type Asked = Parameters<typeof ask>[0];
const look = (orientation: 'a' | 'b', amps = 0, more: object = {}) => ({
	stage: 'intake' as const,
	orientation,
	volts: 5.1,
	amps,
	seconds: 20,
	...more
});
const bothSides = (amps: number, more: object = {}) => [look('a', amps, more), look('b', amps, more)];
const NOTHING = bothSides(0);
const SHORT: Evidence['readings'] = ['A4', 'A9', 'B4', 'B9'].map((pin) => ({
	stage: 'diagnosis',
	pin,
	mode: 'diode',
	value: 0.001
}));
const pads = (number: number) => [{ what: 'pads', number }];
const volts = (value: number) => [{ stage: 'diagnosis' as const, volts: value }];
const failed = (operation: string) => ({ operation, resolved: false });
const PORT_OFF = { operation: 'remove-port', resolved: false, part: true };
const SOUND = seen('straight');

const at = (told: Told, wanted: string) => {
	const place = told.steps.indexOf(wanted);
	return place < 0 ? Infinity : place;
};
/** No plugged step before any of the others. */
const plugged = [
	'cable-known-good',
	'cc-tester',
	'wiggle-load',
	'supply-port',
	'display-known-good',
	'plug-in',
	'touch-heat',
	'vbus-behind-port'
];

describe('what is seen is so', () => {
	it.each<[string, Asked, string[], number]>([
		['a fuse that reads open', { observations: found(['vbus-fuse', 'open']) }, ['input-fuse'], 0.9],
		['a filter that reads open', { observations: found(['filter-through', 'open']) }, ['line-filter'], 0.85],
		['a coil that reads open', { observations: found(['coil-through', 'open']) }, ['coil-open'], 0.8],
		['a burnt flex', { model: 'flexed', observations: found(['flex-look', 'burnt']) }, ['charge-flex'], 0.85],
		[
			'a torn flex on a board with its port',
			{ observations: found(['flex-look', 'torn']) },
			['charge-flex'],
			0.7
		],
		[
			'a lifted battery connector',
			{ observations: found(['battery-connector-look', 'lifted']) },
			['battery-connector'],
			0.85
		],
		[
			'a burnt battery connector',
			{ observations: found(['battery-connector-look', 'burnt']) },
			['battery-connector'],
			0.85
		],
		['torn pads under the port', { observations: found(['pads-look', 'many-torn']) }, ['torn-pads'], 0.85],
		['a corroded board', { observations: found(['board-look', 'corroded']) }, ['board-corrosion'], 0.85],
		['a dry joint', { inspection: seen('straight', ['joints', 'dry']) }, ['port-joints'], 0.85],
		['a cracked joint', { inspection: seen('straight', ['joints', 'cracked']) }, ['port-joints'], 0.8],
		['another cable charges', { observations: found(['cable-known-good', 'charges']) }, ['accessory'], 0.85],
		['one pad counted', { counts: pads(1) }, ['torn-pads'], 0.85],
		['three pads counted', { counts: pads(3) }, ['torn-pads'], 0.9],
		['eighteen pads counted', { counts: pads(18) }, ['torn-pads'], 0.9],
		[
			'burnt contacts are port or flex, not corrosion',
			{ inspection: seen('burnt') },
			['port-contacts', 'charge-flex'],
			0.64
		],
		[
			'green contacts after water',
			{ inspection: seen('corroded'), signs: { 'got-wet': true } },
			['board-corrosion'],
			0.7
		],
		['a broken tongue', { inspection: [{ place: 'tongue', state: 'missing' }] }, ['port-contacts'], 0.7]
	])('%s', (_, asked, faults, least) => {
		expect(ask(asked).chance(...faults)).toBeGreaterThanOrEqual(least);
	});
	it('sound contacts and tongue: no new port before something else speaks for it', () => {
		const told = ask({ inspection: SOUND });
		expect(told.chance('port-contacts')).toBeLessThan(0.06);
		expect(told.first).not.toBe('operation replace-port');
		expect(ask({ inspection: seen('bent') }).chance('port-contacts')).toBeGreaterThan(0.4);
	});
	it('no pads torn where none was counted', () => {
		expect(ask({ counts: pads(0) }).chance('torn-pads')).toBeLessThan(0.02);
	});
});

describe('the supply line to ground', () => {
	it('short with a damaged contact: the port, and no capacitor is taken off', () => {
		const told = ask({ inspection: seen('folded'), readings: SHORT });
		expect(told.chance('port-contacts')).toBeGreaterThanOrEqual(0.6);
		expect(['operation replace-port', 'operation remove-port']).toContain(told.first);
		expect(at(told, 'operation replace-capacitor')).toBe(Infinity);
	});
	it('the same by ohms', () => {
		const told = ask({ inspection: seen('touching'), observations: found(['vbus-ground', 'short']) });
		expect(told.chance('port-contacts')).toBeGreaterThanOrEqual(0.6);
	});
	it('short with sound contacts: a capacitor', () => {
		expect(ask({ inspection: SOUND, readings: SHORT }).chance('shorted-capacitor')).toBeGreaterThanOrEqual(
			0.55
		);
	});
	it('short and nobody looked: look, first of all', () => {
		expect(ask({ readings: SHORT }).first).toBe('measure look');
	});
	it('short, and bridged joints: the bridge before any capacitor', () => {
		const told = ask({ inspection: seen('straight', ['joints', 'bridged']), readings: SHORT });
		expect(told.leader).toBe('port-joints');
	});
	it('gone with the old port: the port was it', () => {
		const gone: Asked = {
			readings: SHORT,
			attempts: [PORT_OFF],
			observations: found(['vbus-ground-off', 'normal'])
		};
		const told = ask({ ...gone, inspection: seen('folded') });
		expect(told.chance('port-contacts')).toBeGreaterThanOrEqual(0.9);
		expect(told.first).toBe('operation replace-port');
		expect(ask({ ...gone, inspection: SOUND }).leader).toBe('port-contacts');
	});
	it('the same by contacts that were read with the port off', () => {
		const off = (value: number) =>
			SHORT!.map((reading) => ({ ...reading, stage: 'port-off' as const, value }));
		const gone = { inspection: SOUND, attempts: [PORT_OFF] };
		expect(ask({ ...gone, readings: [...SHORT!, ...off(0.51)] }).leader).toBe('port-contacts');
		expect(ask({ ...gone, readings: [...SHORT!, ...off(0.002)] }).leader).toBe('shorted-capacitor');
	});
	it('ohms count: under five a short', () => {
		const ohms = (value: number) => SHORT!.map((reading) => ({ ...reading, mode: 'ohms' as const, value }));
		expect(ask({ inspection: SOUND, readings: ohms(4.9) }).leader).toBe('shorted-capacitor');
		expect(ask({ inspection: SOUND, readings: ohms(5) }).leader).not.toBe('shorted-capacitor');
	});
	it('still there with the port off: capacitor first', () => {
		const told = ask({
			inspection: seen('folded'),
			readings: SHORT,
			attempts: [PORT_OFF],
			observations: found(['vbus-ground-off', 'short'])
		});
		expect(told.leader).toBe('shorted-capacitor');
		expect(told.chance('port-contacts')).toBeLessThan(0.4);
	});
	it('a line that reads a value speaks against a capacitor', () => {
		const told = ask({ inspection: SOUND, observations: found(['vbus-ground', 'normal']) });
		expect(told.chance('shorted-capacitor')).toBeLessThan(0.02);
	});
});

describe('at the plug', () => {
	it('one side only: contacts, joints or pads, nothing behind them', () => {
		const told = ask({ meter: [look('a', 1.4), look('b')] });
		expect(told.chance('port-contacts', 'port-joints', 'torn-pads')).toBeGreaterThan(0.6);
		expect(told.chance('charge-controller', 'input-fuse', 'shorted-capacitor')).toBeLessThan(0.05);
	});
	it('a higher voltage agreed and no current: battery side first', () => {
		const told = ask({ inspection: SOUND, meter: bothSides(0, { volts: 9, contract: 9 }) });
		expect(
			told.chance('battery-plug', 'battery-connector', 'battery-flat', 'charge-controller', 'coil-open')
		).toBeGreaterThan(0.75);
		expect(told.chance('port-controller')).toBeLessThan(0.05);
	});
	it('healthy on both sides: nothing of the supply side', () => {
		const told = ask({ inspection: SOUND, meter: bothSides(1.4), battery: volts(3.6) });
		expect(told.chance('port-contacts', 'port-joints', 'torn-pads', 'input-fuse')).toBeLessThan(0.06);
		expect(told.chance('accessory', 'battery-worn', 'software')).toBeGreaterThan(0.5);
	});
	it('nothing on both sides, sound contacts: fuse, controller, joints and pads rise, a worn battery falls', () => {
		const before = ask({ inspection: SOUND });
		const told = ask({ inspection: SOUND, meter: NOTHING });
		for (const fault of ['input-fuse', 'port-controller', 'port-joints', 'torn-pads'])
			expect(told.chance(fault), fault).toBeGreaterThan(before.chance(fault));
		expect(told.chance('battery-worn')).toBeLessThan(before.chance('battery-worn') / 3);
	});
	it('drops when moved: joints before contacts, no chip', () => {
		const told = ask({ inspection: SOUND, signs: { 'drops-out': true } });
		expect(told.leader).toBe('port-joints');
		expect(told.chance('port-controller', 'charge-controller')).toBeLessThan(0.09);
	});
	it('a loose plug alone: debris, contacts and joints; lint decides', () => {
		const loose = ask({ signs: { 'port-loose': true } });
		const chances = ['port-debris', 'port-contacts', 'port-joints'].map((fault) => loose.chance(fault));
		expect(Math.max(...chances) / Math.min(...chances)).toBeLessThan(3.5);
		expect(ask({ signs: { 'port-loose': true, 'lint-seen': true } }).leader).toBe('port-debris');
	});
	it('clean after cleaning: contacts or joints, not a second cleaning', () => {
		const told = ask({
			signs: { 'port-loose': true, 'lint-seen': true },
			observations: found(['port-clean', 'was-clean'])
		});
		expect(['port-contacts', 'port-joints']).toContain(told.leader);
		expect(told.first).not.toMatch(/clean/);
	});
});

describe('parts, chips and packs', () => {
	it('a known good cable that changes nothing clears the user’s own', () => {
		expect(ask({ observations: found(['cable-known-good', 'no-change']) }).chance('accessory')).toBeLessThan(
			0.01
		);
	});
	it('a known good battery that charges: the battery', () => {
		const told = ask({ inspection: SOUND, observations: found(['battery-swap', 'charges']) });
		expect(told.chance('battery-worn', 'battery-flat', 'battery-plug')).toBeGreaterThan(0.75);
	});
	it('no picture: fast contacts, then the display chip', () => {
		const told = ask({ model: 'docked', signs: { 'no-picture': true } });
		expect(told.leader).toBe('port-contacts');
		expect(told.chance('display-controller')).toBeGreaterThan(0.15);
		expect(told.first).toBe('measure look');
	});
	it('a capacitor of the display chip at ground on both sides: that chip', () => {
		const told = ask({
			model: 'docked',
			signs: { 'no-picture': true },
			observations: found(['chip-caps', 'display-chip'])
		});
		expect(told.chance('display-controller')).toBeGreaterThan(0.7);
	});
	it('no chip shorted does not clear a chip', () => {
		const told = ask({
			inspection: SOUND,
			meter: NOTHING,
			observations: found(
				['chip-caps', 'none'],
				['vbus-fuse', 'through'],
				['port-joint-push', 'all-firm'],
				['port-clean', 'was-clean']
			)
		});
		expect(told.leader).toBe('port-controller');
	});
	it('port and battery replaced by others, no current: on inside', () => {
		const told = ask({
			signs: { 'port-replaced': true, 'battery-replaced': true },
			inspection: SOUND,
			meter: NOTHING
		});
		expect(told.chance('input-fuse', 'charge-controller', 'port-controller')).toBeGreaterThanOrEqual(0.35);
	});
	it('a steady climb instead of the battery: the board starts, battery or port side; the same through the port says less', () => {
		const climb = { volts: 4, amps: [0.05, 0.12, 0.3, 0.7] };
		const base = { inspection: SOUND, meter: NOTHING };
		const odds = (told: Told, fault: string) => told.chance(fault) / (1 - told.chance(fault));
		const fed = ask({ ...base, supply: [{ ...climb, fed: 'battery' }] });
		expect(odds(fed, 'battery-plug')).toBeGreaterThan(1.2 * odds(ask(base), 'battery-plug'));
		expect(odds(fed, 'charge-controller')).toBeLessThan(0.7 * odds(ask(base), 'charge-controller'));
		const jump = ask({ ...base, supply: [{ volts: 4, amps: [0.05, 0.3, 0.06], fed: 'battery' }] });
		expect(odds(jump, 'battery-plug') / odds(ask(base), 'battery-plug')).toBeGreaterThan(0.4);
	});
	it('a pack that reads nothing is woken, first', () => {
		const told = ask({ inspection: SOUND, battery: volts(0) });
		expect(told.first).toBe('operation wake-pack');
		expect(told.chance('battery-flat')).toBeGreaterThan(0.2);
	});
	it('but not one that is to be discarded', () => {
		expect(at(ask({ inspection: SOUND, battery: volts(1.2) }), 'operation wake-pack')).toBe(Infinity);
	});
	it('a battery under its precharge: flat before all else', () =>
		expect(ask({ inspection: SOUND, battery: volts(2.2) }).leader).toBe('battery-flat'));
	it('half an ampere that stays, dead, a known good display dark as well: what the board starts from', () => {
		const told = ask({
			model: 'docked',
			signs: { dead: true },
			inspection: SOUND,
			meter: bothSides(0.5),
			observations: found(['display-known-good', 'no-picture'])
		});
		expect(told.chance('other-chip', 'battery-connector', 'battery-worn')).toBeGreaterThan(0.5);
		expect(told.chance('display-controller')).toBeLessThan(0.1);
	});
	it('sound port, firm joints, fuse through, no chip shorted, no current: the port controller leads', () =>
		expect(
			ask({
				inspection: seen('straight', ['joints', 'firm']),
				meter: NOTHING,
				observations: found(['vbus-fuse', 'through'], ['chip-caps', 'none'], ['touch-heat', 'cool'])
			}).leader
		).toBe('port-controller'));
	it('unused for a long time and does not turn on: flat', () => {
		expect(ask({ signs: { 'long-unused': true, dead: true } }).leader).toBe('battery-flat');
	});
	it('charges wirelessly only: the port side, not battery and charge controller', () => {
		const told = ask({ model: 'coiled', signs: { 'wireless-only': true } });
		expect(told.chance('battery-worn', 'charge-controller')).toBeLessThan(0.1);
		expect(told.chance('port-contacts', 'port-joints', 'port-debris')).toBeGreaterThan(0.4);
	});
	it('a function of the flex lost, on a flex: the flex', () => {
		const told = ask({ model: 'flexed', signs: { 'flex-function-lost': true, 'no-charge': true } });
		const onBoard = ask({ signs: { 'flex-function-lost': true, 'no-charge': true } });
		expect(told.chance('charge-flex')).toBeGreaterThan(0.15);
		expect(onBoard.chance('charge-flex')).toBeLessThan(told.chance('charge-flex') / 3);
	});
	it('a port on a flex tears no pads of the board', () => {
		const signs = { 'port-replaced': true };
		expect(ask({ model: 'flexed', signs }).chance('torn-pads')).toBeLessThan(
			ask({ signs }).chance('torn-pads') / 2
		);
	});
});

describe('points of the board', () => {
	const points = (
		values: Record<string, number | 'open'>,
		stage: 'diagnosis' | 'port-off' = 'diagnosis',
		mode: 'diode' | 'ohms' | 'volts' = 'diode'
	): Evidence['readings'] =>
		Object.entries(values).map(([point, value]) => ({
			stage,
			pin: `point:${point}`,
			mode,
			...(value === 'open' ? { overload: true } : { value })
		}));
	const base = { model: 'mapped', inspection: SOUND } satisfies Asked;
	const before = ask(base);
	const odds = (told: Told, fault: string) => told.chance(fault) / (1 - told.chance(fault));
	const factor = (asked: Asked, fault: string) =>
		odds(ask({ ...base, ...asked }), fault) / odds(before, fault);

	it.each<[string, Asked, [fault: string, least: number, most: number][]]>([
		[
			'a capacitor by a chip that is at ground speaks for that chip and for a capacitor',
			{ readings: points({ c12: 0.001 }) },
			[
				['port-controller', 8, 40],
				['shorted-capacitor', 6, 40],
				['display-controller', 0.2, 1.2]
			]
		],
		['ohms count', { readings: points({ c12: 1.2 }, 'diagnosis', 'ohms') }, [['port-controller', 8, 40]]],
		[
			'so do readings with the old port off',
			{ readings: points({ c77: 0.002 }, 'port-off') },
			[['display-controller', 8, 40]]
		],
		[
			'volts say nothing of ground',
			{ readings: points({ c12: 0 }, 'diagnosis', 'volts') },
			[['port-controller', 0.8, 1.25]]
		],
		[
			'one of two ends at ground says nothing while the other was not read',
			{ readings: points({ c40a: 0.001 }) },
			[['charge-controller', 0.99, 1.01]]
		],
		[
			'one of two ends at ground is sound',
			{ readings: points({ c40a: 0.001, c40b: 0.44 }) },
			[['charge-controller', 0.15, 0.7]]
		],
		[
			'both ends at ground are short',
			{ readings: points({ c40a: 0.001, c40b: 0.002 }) },
			[['charge-controller', 8, 40]]
		],
		[
			'ground that reads ground says nothing wrong',
			{ readings: points({ g1: 0.001 }) },
			[['shorted-capacitor', 0.3, 1.05]]
		],
		[
			'a value within what is expected speaks against its fault',
			{ readings: points({ tp1: 0.5 }) },
			[['input-fuse', 0.3, 0.75]]
		],
		[
			'a point that names its faults speaks for these alone',
			{ readings: points({ tp1: 0.001 }) },
			[
				['input-fuse', 8, 40],
				['shorted-capacitor', 0.3, 1.2]
			]
		],
		[
			'a line that is sound speaks against a short',
			{ readings: points({ l3: 0.38 }) },
			[['shorted-capacitor', 0.3, 0.75]]
		]
	])('%s', (_, asked, wanted) => {
		for (const [fault, least, most] of wanted) {
			const found = factor(asked, fault);
			expect(found, fault).toBeGreaterThan(least);
			expect(found, fault).toBeLessThan(most);
		}
	});
	it('two capacitors on one shorted line are one short', () => {
		const one = factor({ readings: points({ c12: 0.001 }) }, 'port-controller');
		expect(factor({ readings: points({ c12: 0.001, c13: 0.001 }) }, 'port-controller')).toBeCloseTo(one, 6);
	});
	it('the latest reading of a point counts', () => {
		const again = [...(points({ c12: 0.001 }) ?? []), ...(points({ c12: 0.41 }) ?? [])];
		expect(factor({ readings: again }, 'port-controller')).toBeLessThan(0.8);
	});
	it('a point of the supply line at ground is a short of the supply: nothing is plugged before it is mended', () => {
		const onSupply = ask({ ...base, readings: points({ c12: 0.001 }) });
		const steps = onSupply.steps.filter((step) => plugged.some((code) => step.endsWith(` ${code}`)));
		expect(steps).not.toEqual([]);
		for (const step of steps)
			expect(onSupply.cautions(step.split(' ')[1] ?? ''), step).toContain('may-short');
		expect(plugged).not.toContain(onSupply.first.split(' ')[1]);
		// another line at ground does not short the plug
		const elsewhere = ask({ ...base, readings: points({ c77: 0.001 }) });
		for (const step of elsewhere.steps)
			expect(elsewhere.cautions(step.split(' ')[1] ?? '')).not.toContain('may-short');
	});
	it('a board without points has none to read; one with points is read inside, once', () => {
		const asked = { inspection: SOUND, meter: NOTHING };
		expect(ask(asked).steps).not.toContain('measure points');
		expect(ask({ ...asked, model: 'mapped' }).steps).toContain('measure points');
		const read = points({ c12: 0.41, c40a: 0.3, c40b: 0.3 });
		expect(ask({ ...asked, model: 'mapped', readings: read }).steps).not.toContain('measure points');
	});
});

describe('what the shop did before', () => {
	it.each<[string, string, Record<string, number>]>([
		['a new port', 'replace-port', { 'port-joints': 0.5, 'torn-pads': 0.12 }],
		['traces of wire', 'rebuild-traces', { 'port-joints': 0.38, 'torn-pads': 0.35 }],
		['a chip', 'replace-charger', { 'charge-controller': 0.45 }],
		[
			'a battery',
			'replace-battery',
			{ 'battery-plug': 0.35, 'battery-worn': 0.22, 'battery-connector': 0.13 }
		],
		['a flex', 'fit-charge-flex', { 'charge-flex': 0.35, 'battery-plug': 0.2 }],
		['a cleaning', 'clean-port', { 'port-contacts': 0.4, 'port-joints': 0.2, 'port-debris': 0.2 }]
	])('%s comes back', (_, operation, shares) => {
		const told = ask({
			model: operation === 'fit-charge-flex' ? 'flexed' : 'plain',
			earlier: [{ operation, days: 12 }]
		});
		for (const [fault, share] of Object.entries(shares))
			expect(Math.abs(told.chance(fault) - share), fault).toBeLessThan(0.06);
		expect(told.first).toBe('measure look');
	});
	it('after three months another fault is twice as likely', () => {
		const joints = (days: number) =>
			ask({ earlier: [{ operation: 'replace-port', days }] }).chance('port-joints');
		expect(joints(20)).toBeCloseTo(joints(0), 6);
		expect(joints(60)).toBeLessThan(joints(30));
		expect(joints(90)).toBeCloseTo((joints(0) * 0.5) / 0.75, 1);
		expect(joints(400)).toBeCloseTo(joints(90), 6);
	});
	it('a comeback of a port: never the fuse, a chip or a cleaning first', () => {
		const told = ask({ earlier: [{ operation: 'replace-port', days: 12 }], inspection: SOUND });
		expect(told.first).not.toMatch(/clean|fuse|controller|charger/);
	});
	it('a port that failed: joints are pushed before anything else', () => {
		const told = ask({ inspection: seen('bent'), attempts: [failed('replace-port')], meter: NOTHING });
		expect(told.first).toBe('test port-joint-push');
		expect(told.steps.slice(0, 3).join(' ')).not.toMatch(/clean/);
	});
	it('but not after a fuse that failed', () => {
		const told = ask({ inspection: SOUND, attempts: [failed('replace-fuse')] });
		expect(told.first).not.toBe('test port-joint-push');
	});
});

describe('rules of advice', () => {
	it('look before plugging: first of all, and said at every plugged step', () => {
		for (const sign of [null, 'no-charge', 'drops-out', 'dead']) {
			const told = ask({ signs: sign === null ? {} : { [sign]: true } });
			expect(told.first).toBe('measure look');
			for (const code of plugged.filter((each) => at(told, `test ${each}`) < Infinity))
				expect(told.cautions(code), code).toContain('look-first');
		}
		const looked = ask({ inspection: SOUND });
		expect(looked.first).not.toBe('measure look');
		for (const code of plugged) expect(looked.cautions(code), code).not.toContain('look-first');
	});
	it('lint that was seen may be cleaned at once', () => {
		expect(ask({ model: 'cheap', signs: { 'lint-seen': true, 'port-loose': true } }).first).toMatch(
			/clean-port|port-clean|look/
		);
	});
	it.each(['folded', 'touching', 'missing'] as const)(
		'no plug with contacts %s: warned, and behind the repair',
		(state) => {
			const told = ask({ inspection: seen(state) });
			const repair = told.steps.findIndex(
				(step) => step.startsWith('operation') && step !== 'operation remove-port'
			);
			for (const code of plugged) {
				const place = Math.min(at(told, `test ${code}`), at(told, `measure ${code}`));
				if (place === Infinity) continue;
				expect(told.cautions(code), code).toContain('may-short');
				expect(place, code).toBeGreaterThan(repair);
			}
		}
	);
	it('where nothing may be plugged, no step counts on what plugging would tell', () => {
		const told = ask({
			inspection: SOUND,
			readings: SHORT,
			attempts: [PORT_OFF],
			observations: [{ test: 'vbus-ground-off', outcome: 'short', stage: 'port-off' }]
		});
		// the looks at what is unlikely, cheap as they are, are no way to a plug
		expect(told.first).toBe('test caps-ground');
	});
	it('bent contacts short nothing', () => {
		for (const code of plugged)
			expect(ask({ inspection: seen('bent') }).cautions(code)).not.toContain('may-short');
	});
	it('nothing inside is measured first on a closed device that nobody has looked at', () => {
		for (const seen of [[], ['wrong-charger', 'no-charge', 'no-lamp']]) {
			const signs = Object.fromEntries(seen.map((sign) => [sign, true]));
			const first = ask({ signs, lossMinor: 20_000 }).advice.next[0];
			expect(['vbus-fuse', 'coil-through', 'caps-ground', 'filter-through']).not.toContain(first?.code);
		}
	});
	it('what is found is repaired at once', () => {
		expect(ask({ inspection: SOUND, observations: found(['vbus-fuse', 'open']) }).first).toBe(
			'operation replace-fuse'
		);
		expect(ask({ inspection: SOUND, counts: pads(18) }).first).toBe('operation rebuild-traces');
		expect(ask({ inspection: SOUND, counts: pads(1) }).first).toBe('operation jumper-track');
	});
	it('and no test is called as good as that repair', () => {
		const held = (asked: Asked) =>
			ask(asked).advice.next.filter(({ kind, heldBack }) => kind === 'test' && !heldBack);
		expect(held({ inspection: SOUND, observations: found(['vbus-fuse', 'open']) })).toEqual([]);
		expect(held({ inspection: SOUND, meter: NOTHING }).length).toBeGreaterThan(3);
	});
	it('one or two pads are bridged, two and more are rebuilt', () => {
		const ways = (number: number) => {
			const told = ask({ inspection: SOUND, counts: pads(number) });
			return ['jumper-track', 'rebuild-traces'].filter((code) => at(told, `operation ${code}`) < Infinity);
		};
		expect(ways(1)).toEqual(['jumper-track']);
		expect(ways(2)).toEqual(['jumper-track', 'rebuild-traces']);
		expect(ways(3)).toEqual(['rebuild-traces']);
	});
	it('a board that had ten minutes of heat: said at the work that heats it, and nowhere else', () => {
		const heated = (seconds: number) =>
			ask({
				inspection: seen('bent'),
				heat: [
					{ on: true, at: 0 },
					{ on: false, at: 1000, seconds }
				]
			});
		const told = heated(600);
		const spent = told.advice.next.filter(({ cautions }) => cautions.includes('heat-spent'));
		expect(spent.map(({ code }) => code)).toContain('replace-port');
		for (const { kind, code } of spent) {
			expect(kind, code).toBe('operation');
			expect(code).not.toMatch(/clean-port|reseat|swap-accessory/);
		}
		expect(heated(599).advice.next.flatMap(({ cautions }) => cautions)).not.toContain('heat-spent');
	});
	it('a connector that is burnt is not bent back', () => {
		const ways = (state: string) =>
			ask({ inspection: SOUND, observations: found(['battery-connector-look', state]) });
		expect(at(ways('burnt'), 'operation bend-battery-connector')).toBe(Infinity);
		expect(at(ways('bent'), 'operation bend-battery-connector')).toBeLessThan(Infinity);
	});
	it('the old port off opens its tests, and saves its minutes in the new one', () => {
		const closed = ask({ inspection: seen('folded'), readings: SHORT });
		expect(at(closed, 'test vbus-ground-off')).toBe(Infinity);
		const off = ask({ inspection: seen('folded'), readings: SHORT, attempts: [PORT_OFF] });
		expect(at(off, 'test pads-look')).toBeLessThan(Infinity);
		expect(at(off, 'operation remove-port')).toBe(Infinity);
	});
	it('with the old port off there is nothing to plug into; with a new one on there is', () => {
		const stepsAfter = (...attempts: NonNullable<Asked['attempts']>) =>
			ask({ inspection: SOUND, meter: NOTHING, attempts }).steps.filter((step) =>
				plugged.some((code) => step.endsWith(` ${code}`))
			);
		expect(stepsAfter()).not.toEqual([]);
		expect(stepsAfter(PORT_OFF)).toEqual([]);
		expect(stepsAfter(PORT_OFF, failed('replace-port'))).not.toEqual([]);
	});
	it('what asks the same is asked once', () => {
		expect(at(ask({ inspection: SOUND, readings: SHORT }), 'test vbus-ground')).toBe(Infinity);
		expect(at(ask({ inspection: seen('straight', ['joints', 'firm']) }), 'test port-joint-push')).toBe(
			Infinity
		);
		expect(at(ask({ inspection: SOUND }), 'test port-joint-push')).toBeLessThan(Infinity);
	});
	it('wireless and picture are asked of models that carry them', () => {
		expect(at(ask({ inspection: SOUND }), 'test wireless-try')).toBe(Infinity);
		expect(at(ask({ model: 'coiled', inspection: SOUND }), 'test wireless-try')).toBeLessThan(Infinity);
		expect(ask({ inspection: SOUND }).chance('wireless-coil')).toBeLessThan(0.001);
	});
	it('the same question has the same answer', () => {
		const asked: Asked = { inspection: SOUND, meter: NOTHING };
		expect(ask(asked).advice.next).toEqual(ask(asked).advice.next);
	});
});

describe('giving up', () => {
	const HOPELESS: [string, Asked][] = [
		[
			'worth 20, board corroded and burnt',
			{
				model: 'cheap',
				inspection: seen('burnt'),
				observations: found(['board-look', 'corroded']),
				signs: { 'got-wet': true }
			}
		],
		[
			'worth 40, seventeen pads',
			{ model: 'worth-40', inspection: SOUND, counts: pads(17), attempts: [PORT_OFF] }
		],
		[
			'worth 25, a chip',
			{
				model: 'worth-25',
				inspection: SOUND,
				observations: found(['chip-caps', 'port-chip'], ['vbus-fuse', 'through'])
			}
		]
	];
	it.each(HOPELESS)('is right and said at once: %s', (_, asked) => {
		const told = ask(asked);
		expect(told.first).toBe('give-up give-up');
		expect(told.advice.quote.verdict).toBe('not-worth-it');
		expect(told.advice.quote.expectedProfitMinor).toBeLessThanOrEqual(0);
	});
	it('not in an open device while nothing leads and something quick was not looked at', () => {
		const told = ask({
			inspection: seen('bent'),
			attempts: [failed('replace-port')],
			joints: [{ place: 'A4', state: 'firm' }],
			counts: pads(0)
		});
		expect(told.first).toBe('measure plug-in');
	});
	it('dirt in the port of a device worth 20 is cleaned', () => {
		const told = ask({ model: 'cheap', signs: { 'lint-seen': true, 'port-loose': true }, inspection: SOUND });
		expect(told.first).not.toBe('give-up give-up');
	});
	it('never where the quote brings something', () => {
		const cases: Asked[] = [
			{},
			{ signs: { 'no-charge': true } },
			{ inspection: SOUND, meter: NOTHING },
			{ inspection: seen('folded'), readings: SHORT },
			{ inspection: seen('bent'), attempts: [failed('replace-port'), failed('reflow-port')] },
			{ signs: { 'got-wet': true }, inspection: seen('corroded') }
		];
		for (const asked of cases) {
			const { first, advice } = ask(asked);
			if (advice.quote.expectedProfitMinor > 0) expect(first).not.toBe('give-up give-up');
		}
	});
	it('a verdict of not worth it is given exactly where no option brings anything', () => {
		for (const [, asked] of [...HOPELESS, ['plain', { inspection: SOUND }] as [string, Asked]]) {
			const { quote } = ask(asked).advice;
			const pays = quote.options.some(
				(option) => option.kind === 'repair' && option.price.expectedProfitMinor > 0
			);
			expect(quote.verdict === 'not-worth-it').toBe(!pays);
		}
	});
	it('with what it loses said, plain arithmetic decides', () => {
		expect(ask({ inspection: SOUND, meter: NOTHING, lossMinor: 100 }).first).toBe('give-up give-up');
		expect(ask({ inspection: SOUND, meter: NOTHING, lossMinor: 50_000 }).first).not.toBe('give-up give-up');
	});
});

describe('another fault, in words', () => {
	it('is named last unless it leads, and no operation is for it', () => {
		const { faults } = ask({ inspection: SOUND }).advice.inference.odds;
		expect(faults.at(-1)?.code).toBe('other');
		expect(faults.findIndex(({ code }) => code === 'other')).toBe(faults.length - 1);
	});
	it('nothing speaks for it: a finding of another fault only lowers it', () => {
		const before = ask({ inspection: SOUND }).chance('other');
		expect(
			ask({ inspection: SOUND, observations: found(['vbus-fuse', 'open']) }).chance('other')
		).toBeLessThan(before);
	});
});
