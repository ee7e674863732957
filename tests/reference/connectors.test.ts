import { describe, expect, it } from 'vitest';
import { facingPin, STANDARD_CONNECTORS } from '$lib/core/catalog/standard-connectors';

const nets = (code: string) =>
	new Map(STANDARD_CONNECTORS.find((item) => item.code === code)?.pins.map(({ pin, net }) => [pin, net]));

// Source: USB Type-C Cable and Connector Specification, receptacle pin assignments; Micro-USB Cables and
// Connectors Specification. Quoted from memory; nothing was looked up.
const ROW_A = 'GND TX1+ TX1- VBUS CC1 D+ D- SBU1 VBUS RX2- RX2+ GND'.split(' ');
const ROW_B_FROM_12 = 'GND RX1+ RX1- VBUS SBU2 D- D+ CC2 VBUS TX2- TX2+ GND'.split(' ');

describe('public connector standards', () => {
	it('24 contacts of a Type-C receptacle', () => {
		const found = nets('type-c-24');
		expect(found.size).toBe(24);
		ROW_A.forEach((net, i) => expect(found.get(`A${i + 1}`)).toBe(net.toLowerCase()));
		ROW_B_FROM_12.forEach((net, i) => expect(found.get(`B${12 - i}`)).toBe(net.toLowerCase()));
	});
	it('16 contacts without the fast pairs: four ground, four VBUS, two of each other', () => {
		const found = nets('type-c-16');
		expect([...found.keys()].sort()).toEqual(
			'A1 A4 A5 A6 A7 A8 A9 A12 B1 B4 B5 B6 B7 B8 B9 B12'.split(' ').sort()
		);
		const count = (net: string) => [...found.values()].filter((found) => found === net).length;
		expect(['gnd', 'vbus', 'd+', 'd-', 'cc1', 'cc2', 'sbu1', 'sbu2'].map(count)).toEqual([
			4, 4, 2, 2, 1, 1, 1, 1
		]);
	});
	it('faces A4 with B9, A5 with B8, A12 with B1', () =>
		expect(['A4', 'A5', 'A12'].map(facingPin)).toEqual(['B9', 'B8', 'B1']));
	it('power and ground lie alike either way round', () => {
		const found = nets('type-c-24');
		for (const [pin, net] of found) {
			if (net !== 'gnd' && net !== 'vbus') continue;
			expect(found.get(facingPin(pin) as string)).toBe(net);
			const turned = pin.startsWith('A') ? pin.replace('A', 'B') : pin.replace('B', 'A');
			expect(found.get(turned)).toBe(net);
		}
	});
	it.each(['micro-b', 'mini-b'])('%s: VBUS, D-, D+, ID, GND', (code) =>
		expect([...nets(code)]).toEqual([
			['1', 'vbus'],
			['2', 'd-'],
			['3', 'd+'],
			['4', 'id'],
			['5', 'gnd']
		])
	);
});
