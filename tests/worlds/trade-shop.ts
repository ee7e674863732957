import { buildCatalog, type Catalog } from '$lib/core/catalog/catalog';
import type { CatalogRecord, CatalogRecordOf } from '$lib/core/catalog/kinds';
import { STARTER_CATALOG } from '$lib/core/catalog/starter-catalog';
import { engineOf } from '$lib/core/diagnosis/engine';
import { emptyLearned } from '$lib/core/diagnosis/learn/learn';
import { inferPosterior, type Posterior } from '$lib/core/diagnosis/infer/odds';
import { readFeatures, type Evidence } from '$lib/core/diagnosis/learn/evidence';
import { emptyPast } from '$lib/core/quoting/past';
import { EMPTY_BOOK } from '$lib/core/readings/known-good-book';
import { advise, type Advice, type Beside, type Knowledge } from '$lib/server/diagnosis/advice';

/** An empty shop with the starter catalog: what it advises rests on the trade's beliefs alone. */
const model = (code: string, fields: Partial<CatalogRecordOf<'model'>>): CatalogRecord => ({
	record: 'model',
	code,
	label: code,
	connector: 'type-c-24',
	battery: { chemistry: 'li-ion', cells: 1, capacity_mah: 3000 },
	charge: { volts: 5, amps: 1.5 },
	...fields
});
const MODELS = [
	model('plain', { value: 200 }),
	model('docked', { value: 260, carries: ['picture'] }),
	model('flexed', { value: 200, port_on: 'flex' }),
	model('coiled', { value: 300, carries: ['wireless'] }),
	model('mapped', {
		value: 200,
		points: [
			{ code: 'c12', label: 'Capacitor by the port chip', chip: 'port-chip', net: 'vbus', ground: 'never' },
			{ code: 'c13', label: 'Its neighbour', chip: 'port-chip', net: 'vbus', ground: 'never' },
			{
				code: 'c40a',
				label: 'Capacitor by the charge chip, left',
				chip: 'charge-chip',
				ground: 'one-side',
				with: 'c40b'
			},
			{
				code: 'c40b',
				label: 'Capacitor by the charge chip, right',
				chip: 'charge-chip',
				ground: 'one-side',
				with: 'c40a'
			},
			{
				code: 'c77',
				label: 'Capacitor by the display chip',
				chip: 'display-chip',
				ground: 'never',
				when: 'port-off'
			},
			{ code: 'l3', label: 'Coil', net: 'vsys', ground: 'never' },
			{ code: 'g1', label: 'Ground pad', ground: 'normal' },
			{
				code: 'tp1',
				label: 'Behind the fuse',
				ground: 'never',
				expect: { mode: 'diode', low: 0.4, high: 0.6 },
				faults: ['input-fuse']
			}
		]
	}),
	model('cheap', { value: 20 }),
	model('worth-25', { value: 25 }),
	model('worth-40', { value: 40 })
];

const catalog: Catalog = buildCatalog([...STARTER_CATALOG, ...MODELS]);
const shop: Knowledge = {
	catalog,
	engine: engineOf(catalog, emptyLearned()),
	past: emptyPast(),
	shelf: { book: () => EMPTY_BOOK }
};

export type Asked = Partial<Evidence & Beside> & { lossMinor?: number };

export interface Told {
	advice: Advice;
	/** chance of a fault */
	chance(...faults: string[]): number;
	leader: string;
	/** "test vbus-fuse" */
	steps: string[];
	first: string;
	cautions(code: string): readonly string[];
}

export function ask(asked: Asked): Told {
	const { lossMinor, ...evidence } = asked;
	const advice = advise(
		shop,
		{ model: 'plain', signs: {}, observations: [], attempts: [], ...evidence },
		lossMinor === undefined ? {} : { lossMinor }
	);
	const { faults } = advice.inference.odds;
	const steps = advice.next.map(({ kind, code }) => `${kind} ${code}`);
	return {
		advice,
		chance: (...codes) =>
			faults.reduce((sum, { code, probability }) => (codes.includes(code) ? sum + probability : sum), 0),
		leader: faults[0]?.code ?? '',
		steps,
		first: steps[0] ?? '',
		cautions: (code) => advice.next.find((step) => step.code === code)?.cautions ?? []
	};
}

/** Odds alone, without steps: chances of the sets of faults. */
export function inferred(asked: Asked): Posterior {
	const evidence = { model: 'plain', signs: {}, observations: [], attempts: [], ...asked };
	return inferPosterior(shop.engine, evidence.model, readFeatures(evidence, catalog));
}

/** Chance of one fault alone on its device over that of another. */
export function oddsBetween(asked: Asked, fault: string, rival: string): number {
	const { codes, sets, posterior } = inferred(asked);
	const alone = (code: string) => {
		const place = codes.indexOf(code);
		return posterior[sets.findIndex((set) => set.length === 1 && set[0] === place)] ?? NaN;
	};
	return alone(fault) / alone(rival);
}

/** Contacts of the port as they were seen, the tongue with them. */
export const seen = (
	state: Evidence['inspection'] extends readonly (infer Entry)[] | undefined
		? Entry extends { state: infer State }
			? State
			: never
		: never,
	...more: [place: string, state: string][]
) =>
	[
		{ place: 'A4', state },
		{ place: 'tongue', state: 'straight' },
		...more.map(([place, state]) => ({ place, state }))
	] as Evidence['inspection'];
export const found = (...all: [test: string, outcome: string][]) =>
	all.map(([test, outcome]) => ({ test, outcome, stage: 'diagnosis' as const }));
