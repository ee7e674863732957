import { describe, expect, it } from 'vitest';
import { KINDS_OF_BENCH, type StepKind } from '$lib/core/catalog/kinds-of-bench';
import { STARTER_PROCEDURES } from '$lib/core/catalog/starter-procedures';
import type { Procedure } from '$lib/core/catalog/catalog';
import { blankStep, moved, procedureOf, stepOf, typedProcedure, type TypedStep } from './procedure-draft';

describe('a procedure as it is typed', () => {
	it.each(STARTER_PROCEDURES.map((record) => [(record as Procedure).code, record as Procedure] as const))(
		'%s comes back as it was',
		(_, procedure) => {
			const { record: kind, code, version, ...rest } = procedure;
			const typed = procedureOf(typedProcedure(procedure));
			expect(typed).toEqual(rest);
			const whole = { record: kind, code, version, ...typed };
			expect(KINDS_OF_BENCH.procedure.schema.parse(whole)).toEqual(procedure);
		}
	);
	it.each<[StepKind, Partial<TypedStep>, object]>([
		['hands', { minutes: '2,5', celsius: '300' }, { minutes: 2.5 }],
		['heat', { celsius: '350', air: '40', gate: 'g' }, { celsius: 350, air: 40 }],
		['heat', { celsius: 'hot' }, { celsius: 'hot' }],
		['heat', { undoes: 'a, b' }, { undoes: ['a', 'b'] }],
		['look', { undoes: 'a' }, {}],
		['wait', { wait: 'cure', minutes: '10', tool: 'x' }, { wait: 'cure', minutes: 10 }],
		['part', { sku: 'p', quantity: '2', alloy: 'x' }, { sku: 'p', quantity: 2 }]
	])('%s with %j', (kind, more, step) =>
		expect(stepOf({ ...blankStep(kind), says: 'x', must: false, ...more })).toEqual({
			kind,
			says: 'x',
			...step
		})
	);
	it('a caution is answered; a new procedure begins with one step', () => {
		expect(stepOf(blankStep('caution'))).toEqual({ kind: 'caution', says: '', must: true });
		expect(typedProcedure(null).steps).toHaveLength(1);
	});
	it.each([
		[0, 2, 'bca'],
		[2, 0, 'cab'],
		[1, 1, 'abc'],
		[0, -1, 'abc'],
		[0, 3, 'abc'],
		[3, 0, 'abc']
	])('moved from %i to %i: %s', (from, to, after) =>
		expect(moved([...'abc'], from, to).join('')).toBe(after)
	);
});
