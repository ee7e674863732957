import { describe, expect, it } from 'vitest';
import { kinds, log, type Level } from '$worlds/levelled-log';
import { tracePhases } from './trace-phases';

describe('each bound of a phase, just under and at it', () => {
	it.each<[string, Level[], number | null, string[]]>([
		['under 10 mA nothing is drawn', [[0.0099, 100]], 1, ['idle']],
		['10 mA are drawn', [[0.01, 100]], 1, ['precharge']],
		['0.15 A are a precharge', [[0.15, 100]], 1, ['precharge']],
		['more is none', [[0.151, 100]], 1, ['steady']],
		['0.6 of what is healthy charges', [[0.6, 100]], 1, ['constant-current']],
		['less does not', [[0.599, 100]], 1, ['steady']],
		['0.6 of a large one', [[1.8, 100]], 3, ['constant-current']],
		['0.3 A charge where the model is not known', [[0.3, 100]], null, ['constant-current']],
		['less does not', [[0.299, 100]], null, ['steady']],
		[
			'a quarter of the peak before it is a precharge',
			[
				[0.5, 100],
				[2, 100]
			],
			1,
			['precharge', 'constant-current']
		],
		[
			'more is none',
			[
				[0.51, 100],
				[2, 100]
			],
			1,
			['steady', 'constant-current']
		],
		[
			'half the peak charges',
			[
				[1, 100],
				[2, 100]
			],
			1,
			['constant-current']
		],
		[
			'less does not',
			[
				[0.99, 100],
				[2, 100]
			],
			1,
			['steady', 'constant-current']
		],
		[
			'twelve seconds agree',
			[
				[0.1, 12],
				[1, 100]
			],
			1,
			['handshake', 'constant-current']
		],
		[
			'thirteen do not',
			[
				[0.1, 13],
				[1, 100]
			],
			1,
			['precharge', 'constant-current']
		],
		[
			'twelve seconds from where the drawing began',
			[
				[0, 50],
				[0.1, 12],
				[1, 100]
			],
			1,
			['idle', 'handshake', 'constant-current']
		],
		[
			'a third more soon after is agreeing',
			[
				[0.5, 5],
				[0.7, 100]
			],
			1,
			['handshake', 'constant-current']
		],
		[
			'less is not',
			[
				[0.5, 5],
				[0.65, 100]
			],
			1,
			['steady', 'constant-current']
		],
		[
			'a quarter less soon after is agreeing',
			[
				[0.9, 5],
				[0.65, 100]
			],
			1,
			['handshake', 'constant-current']
		],
		[
			'another contract soon after is agreeing',
			[
				[0.5, 5],
				[0.5, 100, 9]
			],
			1,
			['handshake', 'steady']
		],
		[
			'a volt is none',
			[
				[0.5, 5],
				[0.5, 100, 6]
			],
			1,
			['steady']
		],
		[
			'behind the knee it tapers; a twenty-fifth of the peak is the end',
			[
				[1, 100],
				[0.5, 100],
				[0.04, 100]
			],
			1,
			['constant-current', 'constant-voltage', 'done']
		],
		[
			'more tapers on',
			[
				[1, 100],
				[0.5, 100],
				[0.041, 100]
			],
			1,
			['constant-current', 'constant-voltage']
		],
		[
			'20 mA end a small charge',
			[
				[0.4, 100],
				[0.2, 100],
				[0.02, 100]
			],
			0.5,
			['constant-current', 'constant-voltage', 'done']
		],
		[
			'21 mA do not',
			[
				[0.4, 100],
				[0.2, 100],
				[0.021, 100]
			],
			0.5,
			['constant-current', 'constant-voltage']
		],
		[
			'low between two charges is no precharge',
			[
				[1, 100],
				[0.2, 100],
				[1, 100]
			],
			1,
			['constant-current', 'steady', 'constant-current']
		],
		[
			'two minutes without are a dropout',
			[
				[1, 100],
				[0, 120],
				[1, 100]
			],
			1,
			['constant-current', 'dropout', 'constant-current']
		],
		[
			'more are none',
			[
				[1, 100],
				[0, 121],
				[1, 100]
			],
			1,
			['constant-current', 'idle', 'constant-current']
		],
		[
			'nothing before the first draw is idle',
			[
				[0, 50],
				[1, 100]
			],
			1,
			['idle', 'constant-current']
		],
		[
			'nothing behind a taper is the end',
			[
				[1, 100],
				[0.5, 100],
				[0, 50]
			],
			1,
			['constant-current', 'constant-voltage', 'done']
		],
		[
			'nothing behind a charge that did not taper is a dropout',
			[
				[1, 100],
				[0, 50]
			],
			1,
			['constant-current', 'dropout']
		],
		[
			'without a supply it is idle',
			[
				[1, 100],
				[0, 50, 0.9]
			],
			1,
			['constant-current', 'idle']
		],
		[
			'a volt is a supply',
			[
				[1, 100],
				[0, 50, 1]
			],
			1,
			['constant-current', 'dropout']
		],
		['a current that flows back counts by its size', [[-1, 100]], 1, ['constant-current']]
	])('%s: %j', (_, levels, healthy, expected) => expect(kinds(levels, healthy)).toEqual(expected));
	it('the last stretch within seven hundredths of the peak is the knee', () => {
		const taper = (level: number) =>
			tracePhases(
				log([
					[1, 100],
					[level, 100],
					[0.5, 100]
				]),
				1
			).find(({ kind }) => kind === 'constant-voltage');
		expect(taper(0.93)?.fromSeconds).toBe(200);
		expect(taper(0.92)?.fromSeconds).toBe(100);
	});
	it.each<[string, Level[], number | null, string[]]>([
		[
			'a minute at more leaves an hour of flat current a charge',
			[
				[1.5, 60],
				[1, 3600]
			],
			1,
			['constant-current']
		],
		[
			'so without knowing the model',
			[
				[1.5, 60],
				[1, 3600]
			],
			null,
			['constant-current']
		],
		[
			'a twentieth of the charge at more is no knee',
			[
				[1.5, 179],
				[1, 3421]
			],
			1,
			['constant-current']
		],
		[
			'more is one, but what goes on behind it flat and healthy is charging all the same',
			[
				[1.5, 181],
				[1, 3419]
			],
			1,
			['constant-current']
		],
		[
			'flat behind it, and less than charging, is neither',
			[
				[1.5, 181],
				[0.7, 3419]
			],
			1,
			['constant-current', 'steady']
		],
		[
			'ten minutes flat behind the knee are no taper',
			[
				[1, 1200],
				[0.5, 601]
			],
			1,
			['constant-current', 'steady']
		],
		[
			'less may be one',
			[
				[1, 1200],
				[0.5, 600]
			],
			1,
			['constant-current', 'constant-voltage']
		]
	])('%s', (_, levels, healthy, wanted) =>
		expect(tracePhases(log(levels), healthy).map(({ kind }) => kind)).toEqual(wanted)
	);
	it('five seconds of inrush leave the charge behind them a charge', () => {
		const charge: Level[] = [
			[0, 20],
			[2.5, 5],
			[1, 900]
		];
		expect(kinds(charge)).toEqual(['idle', 'handshake', 'constant-current']);
		expect(kinds([...charge, [0.5, 300], [0.02, 100]])).toEqual([
			'idle',
			'handshake',
			'constant-current',
			'constant-voltage',
			'done'
		]);
		// a short log of a short draw is judged by what there is
		expect(kinds([[1, 10]])).toEqual(['constant-current']);
	});
	it('half a second of inrush is no peak', () => {
		expect(
			kinds(
				[
					[0, 20],
					[3, 1],
					[1, 400]
				],
				1,
				0.5
			)
		).toEqual(['idle', 'handshake', 'constant-current']);
	});
	it('a phase tells the middle of its current and voltage, and ends where the next begins', () => {
		const [one, two] = tracePhases(
			log([
				[0.1, 50, 5.2],
				[1, 101, 5]
			]),
			1
		);
		expect(one).toEqual({ kind: 'precharge', fromSeconds: 0, toSeconds: 50, volts: 5.2, amps: 0.1 });
		expect(two).toEqual({ kind: 'constant-current', fromSeconds: 50, toSeconds: 150, volts: 5, amps: 1 });
		expect(tracePhases(log([]), 1)).toEqual([]);
	});
});
