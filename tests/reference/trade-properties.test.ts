import { describe, expect, it } from 'vitest';
import { drawOne, seededRandom, type Random } from '$lib/core/units/random';
import { found, inferred, oddsBetween, seen, type Asked } from '$worlds/trade-shop';

/** What must hold of evidence whatever else was seen; bases are drawn, the starter catalog's beliefs weigh them. */
const SIGNS = ['no-charge', 'drops-out', 'port-loose', 'dropped', 'no-lamp', 'wrong-charger', 'long-unused'];
const TESTS: readonly [test: string, outcome: string][] = [
	['port-clean', 'was-clean'],
	['cable-known-good', 'no-change'],
	['controller-diode', 'normal'],
	['caps-ground', 'none-shorted'],
	['touch-heat', 'cool'],
	['battery-reseat', 'no-change']
];
const CONTACTS = ['straight', 'bent', 'burnt'] as const;

function drawBase(random: Random): Asked {
	const signs = Object.fromEntries(SIGNS.filter(() => random() < 0.4).map((sign) => [sign, random() < 0.5]));
	const observations = TESTS.filter(() => random() < 0.3);
	return {
		signs,
		observations: found(...observations),
		...(random() < 0.6 ? { inspection: seen(drawOne(random, CONTACTS)) } : {})
	};
}
const joined = (base: Asked, more: Asked): Asked => ({
	...base,
	...more,
	signs: { ...base.signs, ...more.signs },
	observations: [...(base.observations ?? []), ...(more.observations ?? [])]
});
const BASES = Array.from({ length: 12 }, (_, seed) => drawBase(seededRandom(seed + 1)));

describe('more evidence for a fault never lowers it against one that the evidence does not touch', () => {
	it.each<[string, Asked, string[], string[]]>([
		['got wet', { signs: { 'got-wet': true } }, ['board-corrosion'], ['battery-plug', 'port-debris']],
		['burnt smell', { signs: { 'burnt-smell': true } }, ['shorted-capacitor'], ['battery-plug', 'software']],
		['lint', { signs: { 'lint-seen': true } }, ['port-debris'], ['battery-worn', 'input-fuse']],
		[
			'a fuse that reads open',
			{ observations: found(['vbus-fuse', 'open']) },
			['input-fuse'],
			['port-contacts', 'battery-worn']
		],
		[
			'a capacitor by the port chip',
			{ observations: found(['chip-caps', 'port-chip']) },
			['port-controller', 'shorted-capacitor'],
			['battery-worn', 'port-joints']
		],
		[
			'another battery charges',
			{ observations: found(['battery-swap', 'charges']) },
			['battery-worn', 'battery-flat'],
			['input-fuse', 'port-joints']
		],
		[
			'a torn flex',
			{ model: 'flexed', observations: found(['flex-look', 'torn']) },
			['charge-flex'],
			['battery-worn', 'port-controller']
		],
		[
			'three pads torn',
			{ counts: [{ what: 'pads', number: 3 }] },
			['torn-pads'],
			['battery-worn', 'port-controller']
		],
		[
			'a pack without voltage',
			{ battery: [{ stage: 'diagnosis', volts: 0 }] },
			['battery-flat'],
			['port-joints', 'port-controller']
		]
	])('%s', (_, more, faults, rivals) => {
		for (const base of BASES)
			for (const fault of faults)
				for (const rival of rivals) {
					const before = oddsBetween(more.model ? { ...base, model: more.model } : base, fault, rival);
					const after = oddsBetween(joined(base, more), fault, rival);
					expect(after, `${fault} against ${rival}, ${JSON.stringify(base)}`).toBeGreaterThan(before);
				}
	});
});

describe('a sure finding leads, whatever else was seen', () => {
	it.each<[string, Asked, string]>([
		['a fuse open', { observations: found(['vbus-fuse', 'open']) }, 'input-fuse'],
		['a filter open', { observations: found(['filter-through', 'open']) }, 'line-filter'],
		['a coil open', { observations: found(['coil-through', 'open']) }, 'coil-open'],
		[
			'a lifted battery connector',
			{ observations: found(['battery-connector-look', 'lifted']) },
			'battery-connector'
		],
		['many pads torn', { observations: found(['pads-look', 'many-torn']) }, 'torn-pads'],
		['a corroded board', { observations: found(['board-look', 'corroded']) }, 'board-corrosion'],
		['a torn flex', { model: 'flexed', observations: found(['flex-look', 'torn']) }, 'charge-flex']
	])('%s', (_, more, fault) => {
		for (const base of BASES) {
			const { codes, chances } = inferred(joined(base, more));
			const chance = chances[codes.indexOf(fault)] as number;
			expect(chance, JSON.stringify(base)).toBe(Math.max(...chances));
			expect(chance, JSON.stringify(base)).toBeGreaterThan(0.6);
		}
	});
});

describe('evidence that is the same', () => {
	it('has the same odds in whatever order it was entered', () => {
		for (const base of BASES) {
			const turned = { ...base, observations: [...(base.observations ?? [])].reverse() };
			const [one, other] = [inferred(base), inferred(turned)];
			one.chances.forEach((chance, i) => expect(chance).toBeCloseTo(other.chances[i] as number, 9));
		}
	});
	it('chances of all sets sum to one', () => {
		for (const base of BASES)
			expect(inferred(base).posterior.reduce((sum, chance) => sum + chance, 0)).toBeCloseTo(1, 9);
	});
});
