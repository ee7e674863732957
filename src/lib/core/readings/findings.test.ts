import { describe, expect, it } from 'vitest';
import { reference } from '$worlds/one-reference';
import { STANDARD_CONNECTORS } from '../catalog/standard-connectors';
import type { Connector } from '../catalog/catalog';
import { compareReadings, verdictsAlone, type TakenReading } from './compare';
import { EMPTY_BOOK, knownGoodBook } from './known-good-book';
import { judgeNets, readAlike } from './net-agreement';
import type { PinVerdict } from './pin-verdict';
import { type Mode, type ReferenceRecord } from './reference';
import { judgeForSignatures } from './signatures';
import { type Verdict } from './verdict';

/** Just under, at, just over: every bound of the room, so that none moves unnoticed. */

const connector = (code: string) => STANDARD_CONNECTORS.find((item) => item.code === code) as Connector;

describe('contacts of a net', () => {
	it.each<[Mode, number, number, boolean]>([
		['diode', 0.5, 0.53, true],
		['diode', 0.5, 0.531, false],
		['volts', 3, 3.1, true],
		['volts', 3, 3.101, false],
		['ohms', 10, 15, true],
		['ohms', 10, 15.1, false],
		['ohms', 100, 110, true],
		['ohms', 100, 111.2, false]
	])('in %s, %d and %d read alike: %s', (mode, a, b, alike) => {
		expect(readAlike({ value: a }, { value: b }, mode)).toBe(alike);
		expect(readAlike({ value: b }, { value: a }, mode)).toBe(alike);
	});
	it('overload is like overload alone', () => {
		expect(readAlike({ overload: true }, { overload: true }, 'diode')).toBe(true);
		expect(readAlike({ overload: true }, { value: 0.4 }, 'diode')).toBe(false);
		expect(readAlike({ value: 0.4 }, { overload: true }, 'diode')).toBe(false);
	});
	const pin = (
		name: string,
		value: number | null,
		verdict: Verdict = 'no-reference',
		net = 'n'
	): PinVerdict => ({
		pin: name,
		net,
		mode: 'diode',
		value,
		overload: value === null,
		verdict,
		confidence: 0,
		expected: null
	});
	it.each<[string, PinVerdict[], string[]]>([
		['one alone', [pin('a', 0.4)], []],
		['two alike', [pin('a', 0.4), pin('b', 0.42)], []],
		['one against one', [pin('a', 0.4), pin('b', 0.6)], ['a', 'b']],
		['the minority', [pin('a', 0.4), pin('b', 0.41), pin('c', 0.6)], ['c']],
		['an overload, whatever the count', [pin('a', null), pin('b', null), pin('c', 0.4)], ['a', 'b']],
		['those that the references call wrong', [pin('a', 0.4, 'agrees'), pin('b', 0.6, 'high')], ['b']],
		[
			'an open one beside wrong ones',
			[pin('a', 0.4, 'agrees'), pin('b', 0.6, 'high'), pin('c', null)],
			['c', 'b']
		],
		[
			'wrong ones alone, none of which is judged right',
			[pin('a', 0.4, 'low'), pin('b', 0.6, 'high')],
			['a', 'b']
		]
	])('dissent: %s', (_, pins, dissenting) =>
		expect(judgeNets(pins)[0]).toMatchObject({ dissenting, agree: dissenting.length === 0 })
	);
	it('a net stands as its worst contact', () => {
		const order: Verdict[] = ['no-reference', 'agrees', 'high', 'low', 'open', 'short'];
		order.forEach((worse, i) =>
			order.slice(0, i).forEach((better) => {
				expect(judgeNets([pin('a', 0.4, better), pin('b', 0.4, worse)])[0]?.verdict).toBe(worse);
				expect(judgeNets([pin('a', 0.4, worse), pin('b', 0.4, better)])[0]?.verdict).toBe(worse);
			})
		);
	});
	it('modes are held apart, nets too', () => {
		const ohms = { ...pin('a', 30), mode: 'ohms' as const };
		expect(judgeNets([pin('a', 0.4), ohms, pin('b', 0.4)])[0]?.dissenting).toEqual([]);
		expect(
			judgeNets([pin('a', 0.4), pin('b', 0.9, 'no-reference', 'other')]).map(({ agree }) => agree)
		).toEqual([true, true]);
	});
});

describe('findings', () => {
	const book = (own: ReferenceRecord[]) => knownGoodBook({ own });
	const diode = (pin: string, value: number | 'OL', mode: Mode = 'diode'): TakenReading =>
		value === 'OL' ? { pin, mode, overload: true } : { pin, mode, value };
	const kinds = (code: string, readings: TakenReading[], own: ReferenceRecord[] = []) =>
		compareReadings(connector(code), readings, book(own)).findings.map(
			({ kind, pins }) => `${kind} ${pins.join(' ')}`
		);
	it.each<[string, TakenReading[], string[]]>([
		['a bridge: the same to a count', [diode('1', 0.4), diode('2', 0.401)], ['bridge 1 2']],
		['two counts apart is none', [diode('1', 0.4), diode('2', 0.402)], []],
		['under power like is nothing', [diode('1', 0.4, 'volts'), diode('2', 0.4, 'volts')], []],
		['overload on both says nothing', [diode('1', 'OL'), diode('2', 'OL')], []],
		['ground at its bound', [diode('5', 0.05)], ['ground-missing 5']],
		['ground under it', [diode('5', 0.049)], []],
		['ground below nothing', [diode('5', -0.05)], ['ground-missing 5']],
		['ground open', [diode('5', 'OL')], ['ground-missing 5']],
		['ground under power is not judged', [diode('5', 2, 'volts')], []],
		['partners within 0.03', [diode('2', 0.5), diode('3', 0.53)], []],
		['partners beyond', [diode('2', 0.5), diode('3', 0.54)], ['pair-disagreement 2 3']]
	])('%s', (_, readings, found) => expect(kinds('micro-b', readings)).toEqual(found));
	it.each<[number, number, string[]]>([
		// both read 0.45 where the references expect them so far apart
		[0.4, 0.45, ['bridge 1 2']],
		[0.43, 0.465, []]
	])('neighbours expected at %d and %d that read 0.44', (first, second, found) => {
		const own = [
			...Array.from({ length: 9 }, () => reference(first, { pin: '1' })),
			...Array.from({ length: 9 }, () => reference(second, { pin: '2' }))
		];
		expect(kinds('micro-b', [diode('1', 0.425), diode('2', 0.425)], own)).toEqual(found);
	});
	it('both as expected are no finding, whatever they share', () => {
		const own = [reference(0.4, { pin: '1' }), reference(0.4, { pin: '2' })];
		expect(kinds('micro-b', [diode('1', 0.4), diode('2', 0.4)], own)).toEqual([]);
	});
	it('verdicts alone are the same verdicts, without sureness', () => {
		const readings = [diode('1', 0.001), diode('1', 30, 'ohms'), diode('2', 0.5)];
		const whole = compareReadings(connector('micro-b'), readings, book([reference(0.5, { pin: '1' })]));
		const alone = verdictsAlone(connector('micro-b'), readings, book([reference(0.5, { pin: '1' })]));
		expect(alone.nets).toEqual(whole.nets);
		expect(alone.pins).toEqual(whole.pins.map((pin) => ({ ...pin, confidence: 0 })));
		expect(whole.pins.map(({ pin, mode }) => `${pin} ${mode}`)).toEqual(['1 diode', '1 ohms', '2 diode']);
		expect(
			verdictsAlone(connector('micro-b'), [diode('1', 0.4), diode('1', 0.5)], EMPTY_BOOK).pins
		).toHaveLength(1);
	});
});

describe('a ticket for the search of signatures', () => {
	const port = connector('type-c-16');
	const judged = (readings: TakenReading[], own: ReferenceRecord[] = []) => {
		const { contacts, nets } = judgeForSignatures({ faults: ['f'], readings }, port, knownGoodBook({ own }));
		return { contacts: Object.fromEntries(contacts.verdicts), nets: Object.fromEntries(nets.verdicts) };
	};
	const diode = (pin: string, value: number | 'OL'): TakenReading =>
		value === 'OL' ? { pin, mode: 'diode', overload: true } : { pin, mode: 'diode', value };
	it('with a reference, each contact by it, and its net as the worst', () => {
		const own = ['A4', 'A9'].map((pin) => reference(0.468, { pin }));
		expect(judged([diode('A4', 0.468), diode('A9', 0.001)], own)).toEqual({
			contacts: { A4: 'agrees', A9: 'short' },
			nets: { vbus: 'short' }
		});
	});
	it('with none, contacts that the board joins judge each other', () => {
		expect(judged([diode('A4', 0.468), diode('A9', 0.47)]).contacts).toEqual({ A4: 'agrees', A9: 'agrees' });
		expect(judged([diode('A4', 0.468), diode('A9', 0.47), diode('B4', 'OL')]).contacts).toEqual({
			B4: 'open'
		});
		expect(judged([diode('A4', 0.468)]).contacts).toEqual({});
		expect(judged([diode('A4', 0.4), diode('A9', 0.6)]).contacts).toEqual({});
	});
	it('nothing is judged where the port is not known', () => {
		const { contacts, nets } = judgeForSignatures(
			{ faults: ['f'], readings: [diode('A4', 0.4)] },
			null,
			EMPTY_BOOK
		);
		expect([contacts.faults, contacts.verdicts.size, nets.verdicts.size]).toEqual([['f'], 0, 0]);
	});
});
