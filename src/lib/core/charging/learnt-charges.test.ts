import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../catalog/catalog';
import { seededRandom } from '../units/random';
import { judgePlugIn, plugContext } from './judge-plug-in';
import {
	CHARGES,
	learntCharge,
	namesNoCharge,
	repairedDraws,
	sameCharge,
	withLearntCharges,
	type RepairedDraws
} from './learnt-charges';

/** What repaired devices draw, where the catalog names no charge. */

const catalog = buildCatalog([
	{
		record: 'connector',
		code: 'two-row',
		label: 'Two rows',
		pins: [
			{ pin: 'A4', net: 'vbus', side: 'a' },
			{ pin: 'B4', net: 'vbus', side: 'b' }
		]
	},
	{ record: 'model', code: 'open', label: 'Open', connector: 'two-row' },
	{
		record: 'model',
		code: 'named',
		label: 'Named',
		connector: 'two-row',
		charge: { volts: 5, amps: 0.5 }
	},
	{
		record: 'model',
		code: 'more',
		label: 'More',
		connector: 'two-row',
		charges: [{ volts: 9, amps: 1 }]
	}
]);
const look = (volts: number, amps: number, stage = 'closing') => ({ stage, volts, amps });
const closed = (
	meter: ReturnType<typeof look>[],
	outcome: string | null = 'fixed',
	model = 'open',
	attempts = [{ resolved: true }]
) => repairedDraws({ model, outcome, meter, attempts }, catalog);
const learn = (shares: readonly RepairedDraws[]) => {
	const sum = CHARGES.empty();
	for (const share of shares) CHARGES.add(sum, share);
	return CHARGES.settled(sum);
};
const draws = (...amps: number[]) => amps.map((each) => closed([look(5.05, each)])!);

describe('a ticket says', () => {
	it('the strongest draw of each level after the repair', () => {
		expect(
			closed([look(5.1, 0.6), look(5.05, 0.92, 'after-repair'), look(8.9, 1.31), look(5, 2, 'intake')])
		).toEqual({
			model: 'open',
			draws: [
				[5, 92],
				[9, 131]
			]
		});
		expect(closed([look(5, -0.9)])).toMatchObject({ draws: [[5, 90]] });
	});
	it.each([
		['not fixed', closed([look(5, 0.9)], 'not-fixed')],
		['open', closed([look(5, 0.9)], null)],
		['only before the repair', closed([look(5, 0.9, 'diagnosis')])],
		['hardly anything drawn', closed([look(5, 0.149)])],
		['nothing measured', closed([])]
	])('nothing where %s', (_, share) => expect(share).toBeNull());
	it('from 0.15 A on', () => expect(closed([look(5, 0.15)])).toMatchObject({ draws: [[5, 15]] }));
	it('after a repair that failed only what was seen at closing', () => {
		const seen = [look(5, 0.4, 'after-repair'), look(9, 1)];
		const attempts = [{ resolved: false }, { resolved: true }];
		expect(closed(seen, 'fixed', 'open', attempts)).toMatchObject({ draws: [[9, 100]] });
		expect(closed(seen)?.draws).toHaveLength(2);
	});
	it('what the catalog names does not shift the level', () => {
		expect(closed([look(5.6, 0.9)], 'fixed', 'named')).toMatchObject({ draws: [[9, 90]] });
	});
});

describe('a model', () => {
	it('is learnt from five tickets on', () => {
		expect(learntCharge(learn(draws(0.8, 0.9, 0.9, 1)), 'open')).toBeNull();
		// sorted .8 .9 .9 1.0 1.1: a quarter .9, the middle .9, nine tenths 1.06
		expect(learntCharge(learn(draws(0.8, 1.1, 0.9, 0.9, 1)), 'open')).toEqual({
			charge: { volts: 5, amps: 0.9 },
			charges: [{ volts: 5, amps: 1.05 }],
			from: 5
		});
		expect(learntCharge(learn([]), 'open')).toBeNull();
	});
	it('its usual charge is that of the level which most tickets know', () => {
		const both = [
			...Array.from({ length: 6 }, () => closed([look(9, 1.5)])!),
			...draws(0.5, 0.5, 0.5, 0.5, 0.5)
		];
		expect(learntCharge(learn(both), 'open')).toMatchObject({
			charge: { volts: 9, amps: 1.5 },
			from: 6
		});
		expect(learntCharge(learn(both), 'open')?.charges.map(({ volts }) => volts)).toEqual([5]);
	});
	it('is judged by it where the catalog names nothing, and only there', () => {
		const shares = ['open', 'named', 'more'].flatMap((model) =>
			Array.from({ length: 5 }, () => closed([look(5, 1.8)], 'fixed', model)!)
		);
		const learnt = withLearntCharges(catalog, learn(shares));
		expect(learnt.models.get('open')).toMatchObject({ charge: { volts: 5, amps: 1.8 }, chargesFrom: 5 });
		expect(learnt.models.get('named')).toBe(catalog.models.get('named'));
		expect(learnt.models.get('more')).toBe(catalog.models.get('more'));
		expect(withLearntCharges(catalog, learn([]))).toBe(catalog);
		const judged = (of: typeof catalog) =>
			judgePlugIn({ volts: 5, amps: 0.7, seconds: 30 }, plugContext(of, 'open', null));
		expect(judged(catalog).kind).toBe('healthy');
		expect(judged(learnt)).toMatchObject({ kind: 'slow' });
		expect(judged(learnt).reason).toContain('1.80 A');
		expect(plugContext(learnt, 'open', null).from).toBe(5);
	});
	it('charges alike whichever number of tickets says so', () => {
		const [open, named] = [catalog.models.get('open'), catalog.models.get('named')];
		expect(sameCharge(open, { ...open!, chargesFrom: 9 })).toBe(true);
		expect(sameCharge(open, named)).toBe(false);
		expect(sameCharge(undefined, open)).toBe(true);
		expect([undefined, open, named, catalog.models.get('more')].map(namesNoCharge)).toEqual([
			false,
			true,
			false,
			false
		]);
	});
});

it('is taken back to the last digit, in whichever order', () => {
	const random = seededRandom(5);
	const shares = Array.from({ length: 60 }, () =>
		closed([look(random() < 0.5 ? 5 : 9, 0.2 + random())], 'fixed', random() < 0.5 ? 'open' : 'named')!
	);
	const sum = CHARGES.empty();
	for (const share of shares) CHARGES.add(sum, share);
	for (const share of shares.slice(20).reverse()) CHARGES.remove(sum, share);
	expect(CHARGES.settled(sum)).toEqual(learn(shares.slice(0, 20)));
	expect([...CHARGES.settled(sum).keys()]).toEqual([...learn(shares.slice(0, 20)).keys()]);
	for (const share of shares.slice(0, 20)) CHARGES.remove(sum, share);
	expect(sum.size).toBe(0);
});
