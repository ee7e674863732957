import { describe, expect, it } from 'vitest';
import { catalog, times, unseen } from '$worlds/fuse-and-port';
import { answersOf, readFeatures, type Evidence } from './evidence';
import { answerWords, evidenceWords } from './evidence-words';

/** Rules of the engine one by one, each at its bound and against a sum made by hand. */

const plain = unseen('m');
const answersTold = (more: Partial<Evidence>) =>
	Object.fromEntries(
		readFeatures({ ...plain, ...more }, catalog).answers.map(({ question, answer }) => [question, answer])
	);
/** of some answers, those that are asked about; undefined where there is none */
const of = (asked: Record<string, unknown>, told: Record<string, string>) =>
	Object.fromEntries(Object.keys(asked).map((question) => [question, told[question]]));

describe('what a look tells', () => {
	const look = (...seen: [string, string][]) => {
		const told = answersTold({ inspection: seen.map(([place, state]) => ({ place, state })) });
		return Object.fromEntries(Object.entries(told).map(([question, answer]) => [question.slice(5), answer]));
	};
	it.each<[string, [string, string][], Record<string, string>]>([
		['nothing looked at', [], {}],
		['a straight contact', [['A1', 'straight']], { contacts: 'straight' }],
		['a burnt tongue says nothing of contacts', [['tongue', 'burnt']], { tongue: 'burnt' }],
		['a straight tongue', [['tongue', 'straight']], { tongue: 'straight' }],
		['a bent shell', [['shell', 'bent']], { shell: 'bent' }],
		['joints, in words of contacts', [['joints', 'corroded']], { joints: 'cracked' }],
		['joints, in words of their own', [['joints', 'dry']], { joints: 'dry' }],
		...(['missing', 'burnt', 'corroded', 'bent', 'folded', 'touching'] as const).map(
			(state): [string, [string, string][], Record<string, string>] => [
				`a ${state} contact`,
				[['A1', state]],
				{ contacts: state }
			]
		),
		...(
			[
				['straight', 'corroded'],
				['corroded', 'bent'],
				['bent', 'touching'],
				['touching', 'folded'],
				['folded', 'burnt'],
				['burnt', 'missing']
			] as const
		).flatMap(([better, worse]): [string, [string, string][], Record<string, string>][] => [
			[
				`${worse} after ${better}`,
				[
					['A1', better],
					['A2', worse]
				],
				{ contacts: worse }
			],
			[
				`${worse} before ${better}`,
				[
					['A1', worse],
					['A2', better]
				],
				{ contacts: worse }
			]
		]),
		[
			'seen again, straight',
			[
				['A1', 'bent'],
				['A1', 'straight']
			],
			{ contacts: 'straight' }
		]
	])('%s', (_, seen, told) => expect(look(...seen)).toEqual(told));
});

describe('what is measured tells', () => {
	const plug = (volts: number, amps: number, more: object = {}) => ({
		stage: 'intake',
		volts,
		amps,
		...more
	});
	it.each<[string, Evidence['meter'], Record<string, string | undefined>]>([
		['a contract over 5.5 V is raised', [plug(5.51, 0.5)], { 'meter:contract': 'raised' }],
		['5.5 V is not', [plug(5.5, 0.5)], { 'meter:contract': 'base' }],
		[
			'one side says nothing of sides',
			[plug(5, 0.5, { orientation: 'a' })],
			{ 'meter:sides': undefined, 'meter:hold': undefined }
		],
		[
			'both alike',
			[plug(5, 0.5, { orientation: 'a' }), plug(5, 0.5, { orientation: 'b' })],
			{ 'meter:sides': 'alike' }
		],
		[
			'one only',
			[plug(5, 0, { orientation: 'a' }), plug(5, 0.5, { orientation: 'b' })],
			{ 'meter:sides': 'one-only' }
		],
		[
			'two looks say nothing of holding',
			times(2, plug(5, 0.5, { orientation: 'a' })),
			{ 'meter:hold': undefined }
		],
		['three that hold', times(3, plug(5, 0.5, { orientation: 'a' })), { 'meter:hold': 'steady' }],
		['after the repair nothing counts', [plug(5, 0.5, { stage: 'closing' })], { 'meter:draw': undefined }]
	])('%s', (_, meter, told) => expect(of(told, answersTold({ meter }))).toEqual(told));
	it('the strongest draw is judged, backwards ones too', () => {
		const of = (...amps: number[]) => answersTold({ meter: amps.map((a) => plug(5, a)) })['meter:draw'];
		expect(of(0, 0.5)).toBe(of(0.5));
		expect(of(0.5, 0)).toBe(of(0.5));
		expect(of(0.01, -0.6)).toBe(of(-0.6));
		expect(of(0)).not.toBe(of(0.5));
	});
	it('the last battery reading before the repair counts', () => {
		const battery = (...volts: number[]) =>
			answersTold({ battery: volts.map((v) => ({ stage: 'intake', volts: v })) })['battery:state'];
		expect(battery(3.7, 1.4)).toBe('discard');
		expect(battery(1.4, 3.7)).toBe('in-range');
		expect(battery(1.5)).toBe('watch');
		expect(battery()).toBeUndefined();
		expect(answersTold({ battery: [{ stage: 'closing', volts: 3.7 }] })['battery:state']).toBeUndefined();
	});
	const pins = (...shown: [string, number | null, string?][]) =>
		answersTold({
			readings: shown.map(([pin, value, mode = 'diode']) => ({
				stage: 'intake',
				pin,
				mode: mode as 'diode',
				...(value === null ? { overload: true } : { value })
			}))
		});
	it.each<[string, [string, number | null, string?][], Record<string, string | undefined>]>([
		[
			'values that agree',
			[
				['1', 0.4],
				['2', 0.41]
			],
			{ 'pins:vbus': 'value' }
		],
		[
			'a short is under 0.05',
			[
				['1', 0.049],
				['2', 0.049]
			],
			{ 'pins:vbus': 'short' }
		],
		[
			'0.05 is a value',
			[
				['1', 0.05],
				['2', 0.05]
			],
			{ 'pins:vbus': 'value' }
		],
		[
			'0.19 is a value',
			[
				['1', 0.19],
				['2', 0.19]
			],
			{ 'pins:vbus': 'value' }
		],
		[
			'all open',
			[
				['1', null],
				['2', null]
			],
			{ 'pins:vbus': 'open' }
		],
		[
			'contacts apart',
			[
				['1', 0.4],
				['2', null]
			],
			{ 'pins:vbus': 'mixed' }
		],
		['volts say nothing', [['1', 3, 'volts']], { 'pins:vbus': undefined }],
		[
			'ohms tell a short, and a value',
			[
				['1', 4.99, 'ohms'],
				['3', 5, 'ohms']
			],
			{ 'pins:vbus': 'short', 'pins:d+': 'value' }
		],
		[
			'of a net that was read in both, diode mode tells',
			[
				['1', 0.4],
				['1', 3, 'ohms']
			],
			{ 'pins:vbus': 'value' }
		],
		['a net that was not read says nothing', [['3', 0.4]], { 'pins:vbus': undefined, 'pins:d+': 'value' }]
	])('%s', (_, shown, told) => expect(of(told, pins(...shown))).toEqual(told));
	it('the latest outcome of a test counts, of codes that the catalog knows', () => {
		const observations = [
			{ test: 'probe', outcome: 'open' },
			{ test: 'probe', outcome: 'through' },
			{ test: 'gone', outcome: 'x' },
			{ test: 'safe', outcome: 'none of it' }
		];
		expect(
			readFeatures({ ...plain, observations, signs: { dead: true, gone: true } }, catalog)
		).toMatchObject({
			answers: [{ question: 'probe', answer: 'through' }],
			signs: [['dead', true]]
		});
		expect(answersOf(catalog, 'probe')).toEqual(['open', 'through']);
		expect(answersOf(catalog, 'no such')).toEqual([]);
		expect(answersOf(catalog, 'constructor')).toEqual([]);
	});
	it('says it in the trade’s words', () => {
		expect(evidenceWords(catalog, 'dead=true')).toBe('dead');
		expect(evidenceWords(catalog, 'dead=false')).toBe('not: dead');
		expect(evidenceWords(catalog, 'probe=open')).toBe('Probe the fuse: open');
		expect(evidenceWords(catalog, 'tried:fit-fuse=true')).toBe('Fit a fuse: it helped');
		expect(evidenceWords(catalog, 'tried:fit-fuse=false')).toBe('Fit a fuse: it did not help');
		expect(evidenceWords(catalog, 'pins:vbus=agrees')).toBe('VBUS reads as known good');
		expect(evidenceWords(catalog, 'pins:vbus=mixed')).toBe('contacts of VBUS read apart');
		expect(evidenceWords(catalog, 'pins:vbus=value')).toBe('VBUS reads a value');
		expect(evidenceWords(catalog, 'pins:vbus=short')).toBe('VBUS reads short');
		expect(evidenceWords(catalog, 'look:contacts=missing')).toBe('contacts missing');
		expect(evidenceWords(catalog, 'look:tongue=straight')).toBe('tongue sound');
		expect(evidenceWords(catalog, 'path:odd=lost')).toBe('odd: the supply is lost');
		expect(evidenceWords(catalog, 'after:look:tongue=burnt')).toBe('after the repair: tongue burnt');
		expect(evidenceWords(catalog, 'of nobody=x')).toBe('of nobody=x');
		expect(answerWords(catalog, 'probe', 'open')).toBe('open');
		expect(answerWords(catalog, 'meter:hold', 'pulsing')).toBe('the current pulses');
	});
});
