import { describe, expect, it } from 'vitest';
import type { Connector } from '../catalog/catalog';
import type { Expected } from './expected';
import { expectedByPlace, probedPlaces, readWith } from './expected-by-place';

const connector = { pins: [{ pin: 'A4' }, { pin: 'A5' }] } as unknown as Connector;
const expectedAt = (centre: number) => ({ centre }) as Expected;

describe('what each contact should read', () => {
	it('is told by contact and mode, as the reading in hand is taken; what nothing is known of is left out', () => {
		const asked: unknown[] = [];
		const taken = { meter: 'bench-1', board: 'r2' };
		const book = {
			expected: (pin: string, mode: string, conditions?: object) => {
				asked.push(conditions);
				return pin === 'A4' && mode !== 'ohms' ? expectedAt(mode === 'diode' ? 0.5 : 5) : null;
			}
		};
		expect(expectedByPlace(book, probedPlaces(connector, null), taken)).toEqual({
			'A4 diode': expectedAt(0.5),
			'A4 volts': expectedAt(5)
		});
		expect(asked).toEqual(Array(6).fill(taken));
	});
	it('is nothing without a connector', () => {
		const book = { expected: () => expectedAt(1) };
		expect(expectedByPlace(book, probedPlaces(null, null), {})).toEqual({});
		expect(expectedByPlace(book, probedPlaces(undefined, {}), {})).toEqual({});
	});
});

it('meters and boards are told once each, in order, of what is known good and of the ticket', () => {
	const references = [{ meter: 'm2', board: 'r1' }, { meter: 'm1' }, {}];
	const readings = [{ meter: 'm2' }, { meter: 'm3', board: 'r0' }];
	expect(readWith(references, readings)).toEqual({ meters: ['m1', 'm2', 'm3'], boards: ['r0', 'r1'] });
	expect(readWith([], [])).toEqual({ meters: [], boards: [] });
});
