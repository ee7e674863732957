import { describe, expect, it } from 'vitest';
import { HOUR_MS, MINUTE_MS } from '../units/instant';
import { gatesInTheWay, gateStates, type GateState } from './gates';
import { durationWords, promiseSlack } from './promise';

describe('the slack of a promise', () => {
	const at = 10 * HOUR_MS;
	it.each<[number, number, string]>([
		[-1, 0, 'late'],
		[0, 0, 'tight'],
		[2 * HOUR_MS - 1, 0, 'tight'],
		[2 * HOUR_MS, 0, 'fine'],
		[2 * HOUR_MS, 1, 'tight'],
		[30 * MINUTE_MS, 30, 'tight'],
		[30 * MINUTE_MS, 30.1, 'late']
	])('%d ms left with %d minutes of hands to go is %s', (left, minutes, urgency) =>
		expect(promiseSlack(at + left, at, minutes)).toEqual({ slackMs: left - minutes * MINUTE_MS, urgency })
	);
	it('without a promise there is none', () =>
		expect(promiseSlack(null, at, 30)).toEqual({ slackMs: null, urgency: 'none' }));
	it.each<[number, string]>([
		[0, '0 min'],
		[59.4, '59 min'],
		[59.5, '1 h 00'],
		[60, '1 h 00'],
		[190, '3 h 10'],
		[-25, '25 min'],
		[23 * 60 + 59, '23 h 59'],
		[24 * 60, '1 d 0 h'],
		[52 * 60, '2 d 4 h']
	])('%d minutes are %s', (minutes, words) => expect(durationWords(minutes * MINUTE_MS)).toBe(words));
});

describe('gates', () => {
	const gate = (code: string): Pick<GateState, 'code' | 'label' | 'when'> => ({
		code,
		label: code,
		when: 'after-sealing'
	});
	const catalog = {
		gates: new Map([
			['a', gate('a')],
			['b', gate('b')]
		])
	};
	const operations = new Map([
		['weld', {}],
		['close-up', { undoes: ['b'] }],
		['wipe', { undoes: [] }]
	]);
	const states = (
		gates: { gate: string; passed: boolean; at?: number }[],
		attempts: { operation?: string; part?: boolean; at?: number }[] = []
	) =>
		gateStates(
			{ gates, attempts: attempts.map((work) => ({ operation: 'weld', ...work })) },
			{ ...catalog, operations }
		).map(({ passed }) => passed);
	const BOTH = ['a', 'b'].map((gate) => ({ gate, passed: true, at: 4 }));
	it('takes the minutes of its record, four without', () => {
		const timed = new Map<string, ReturnType<typeof gate> & { minutes?: number }>([
			['a', { ...gate('a'), minutes: 7 }],
			['b', gate('b')]
		]);
		expect(gateStates({ gates: [], attempts: [] }, { gates: timed }).map(({ minutes }) => minutes)).toEqual([
			7, 4
		]);
	});
	it.each<[string, Parameters<typeof states>, (boolean | null)[]]>([
		['nothing checked', [[]], [null, null]],
		['each by its own code', [[{ gate: 'b', passed: true }]], [null, true]],
		[
			'the last check counts',
			[
				[
					{ gate: 'a', passed: false },
					{ gate: 'a', passed: true }
				]
			],
			[true, null]
		],
		[
			'one that failed is in the way',
			[
				[
					{ gate: 'a', passed: true },
					{ gate: 'a', passed: false }
				]
			],
			[false, null]
		],
		[
			'passed before the last repair is open again',
			[[{ gate: 'a', passed: true, at: 4 }], [{ at: 5 }]],
			[null, null]
		],
		['at the same moment it stands', [[{ gate: 'a', passed: true, at: 5 }], [{ at: 5 }]], [true, null]],
		[
			'the latest of several repairs',
			[[{ gate: 'a', passed: true, at: 6 }], [{ at: 9 }, { at: 5 }]],
			[null, null]
		],
		['without a time it stands', [[{ gate: 'a', passed: true }], [{ at: 5 }]], [true, null]],
		['a repair without a time undoes nothing', [[{ gate: 'a', passed: true, at: 1 }], [{}]], [true, null]],
		['an operation undoes the gates that it names', [BOTH, [{ operation: 'close-up', at: 5 }]], [true, null]],
		['and none where it names none of them', [BOTH, [{ operation: 'wipe', at: 5 }]], [true, true]],
		['one that the catalog does not know undoes all', [BOTH, [{ operation: 'gone', at: 5 }]], [null, null]],
		['a step of a longer repair undoes nothing by itself', [BOTH, [{ part: true, at: 5 }]], [true, true]],
		['but what its operation names', [BOTH, [{ operation: 'close-up', part: true, at: 5 }]], [true, null]],
		[
			'a whole attempt and then the device closed: all of them, by the attempt',
			[BOTH, [{ at: 5 }, { operation: 'close-up', at: 6 }]],
			[null, null]
		]
	])('%s', (_, given, passed) => expect(states(...given)).toEqual(passed));
	it('all but passed ones are in the way, in the catalog’s order', () => {
		const some = gateStates({ gates: [{ gate: 'a', passed: false }], attempts: [] }, catalog);
		expect(gatesInTheWay(some).map(({ code }) => code)).toEqual(['a', 'b']);
		expect(gatesInTheWay(some.map((state) => ({ ...state, passed: true })))).toEqual([]);
	});
});

describe('a gate that is answered for each word of what a model carries', () => {
	const shop = {
		gates: new Map([
			[
				'functions',
				{ code: 'functions', label: 'What it carries works', when: 'after-sealing' as const, each: true }
			]
		]),
		models: new Map([
			['rich', { carries: ['microphone', 'picture'] }],
			['poor', {}]
		])
	};
	const state = (gates: { passed: boolean; of?: string; at?: number }[], model = 'rich', undoneAt?: number) =>
		gateStates(
			{
				model,
				gates: gates.map((gate) => ({ gate: 'functions', ...gate })),
				attempts: undoneAt === undefined ? [] : [{ operation: 'x', at: undoneAt }]
			},
			shop
		)[0] as GateState;
	it.each<[string, { passed: boolean; of?: string; at?: number }[], boolean | null, (boolean | null)[]]>([
		['nothing answered', [], null, [null, null]],
		['one of two', [{ of: 'picture', passed: true }], null, [null, true]],
		[
			'each of them',
			[
				{ of: 'picture', passed: true },
				{ of: 'microphone', passed: true }
			],
			true,
			[true, true]
		],
		['one that failed', [{ passed: true }, { of: 'picture', passed: false }], false, [true, false]],
		[
			'one that failed and then passed',
			[{ passed: true }, { of: 'picture', passed: false }, { of: 'picture', passed: true }],
			true,
			[true, true]
		],
		['all at once', [{ passed: true }], true, [true, true]],
		[
			'all at once, after one that failed',
			[{ of: 'picture', passed: false }, { passed: true }],
			true,
			[true, true]
		],
		['a word that it does not carry', [{ of: 'fan', passed: true }], null, [null, null]]
	])('%s', (_, gates, passed, parts) => {
		expect(state(gates).passed).toBe(passed);
		expect(state(gates).parts).toEqual([
			{ word: 'microphone', passed: parts[0] },
			{ word: 'picture', passed: parts[1] }
		]);
	});
	it('is answered as a whole where the model carries nothing, and open again after work that undoes it', () => {
		expect(state([], 'poor')).toMatchObject({ passed: null, parts: [] });
		expect(state([{ passed: true }], 'poor')).toMatchObject({ passed: true, parts: [] });
		const both = [
			{ of: 'picture', passed: true, at: 5 },
			{ of: 'microphone', passed: true, at: 20 }
		];
		expect(state(both, 'rich', 10).parts.map(({ passed }) => passed)).toEqual([true, null]);
		expect(state(both, 'rich', 10).passed).toBeNull();
	});
});
