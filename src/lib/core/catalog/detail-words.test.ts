import { expect, it } from 'vitest';
import { ALL } from '$worlds/changed-tickets';
import { DEMO_CATALOG } from '../simulation/demo-catalog';
import { buildCatalog } from './catalog';
import { detailWords } from './detail-words';

const catalog = buildCatalog(DEMO_CATALOG);

it.each<[Record<string, unknown>, string]>([
	[{ verb: 'quote', priceMinor: 5800 }, 'price 58.00'],
	[
		{ verb: 'close', outcome: 'no-fault-found', faults: ['board-corrosion'] },
		'outcome no fault found, faults Board corroded'
	],
	[
		{ verb: 'observe', test: 'port-joint-push', outcome: 'some-move' },
		'test Push the joints under the lens, outcome some move'
	],
	[
		{ verb: 'attempt', operation: 'gone-since', resolved: false, part: true },
		'operation gone since, resolved no, part yes'
	],
	[{ verb: 'hand-over', to: 'ines' }, 'to Ines'],
	[{ verb: 'hand-over', to: null }, ''],
	[{ parts: [{ sku: 'port-smd', quantity: 1 }] }, 'parts (sku Port, surface mount, quantity 1)'],
	[{ readings: [{ pin: 'A4', value: 0.001 }], mode: 'diode' }, 'readings (pin A4, value 0.001), mode diode'],
	[{ text: 'left-hand side' }, 'text left-hand side'],
	[{ taken_at: '2026', parts: [] }, 'taken at 2026'],
	[{ faults: ['input-fuse', 'battery-worn'] }, 'faults Input fuse open and Battery worn out']
])('%j', (detail, words) => expect(detailWords(detail, catalog)).toBe(words));

it('no change leaves a code or a name of the program in its words', () => {
	const codes = [...Object.values(catalog.records)]
		.flatMap((kind) => [...kind.keys()])
		.filter((code) => /[a-z]-[a-z]/.test(code));
	for (const [, change] of Object.values(ALL)) {
		const words = detailWords(change as unknown as Record<string, unknown>, catalog);
		expect(words).not.toMatch(/Minor|[a-z][A-Z]|[{}"]|_/);
		for (const code of codes) expect(` ${words} `).not.toContain(` ${code} `);
	}
});
