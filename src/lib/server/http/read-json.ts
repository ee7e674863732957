import type { z } from 'zod';
import { describeIssue } from '$lib/core/exchange/read-lines';
import { unsoundIn } from '$lib/core/units/sound-value';

export type JsonAnswer<Value> =
	{ ok: true; value: Value } | { ok: false; json: boolean; errors: { path: string; message: string }[] };

/** At most so many errors of one body are told. */
const TOLD = 50;

/** Reads a JSON body by its schema; what could not be stored, or is nested without end, is refused before that. */
export async function readJson<Schema extends z.ZodType>(
	request: Request,
	schema: Schema
): Promise<JsonAnswer<z.output<Schema>>> {
	let value: unknown;
	try {
		value = JSON.parse(await request.text());
	} catch {
		return { ok: false, json: false, errors: [{ path: '', message: 'is not JSON; send one JSON object' }] };
	}
	const unsound = unsoundIn(value);
	if (unsound) return { ok: false, json: true, errors: [unsound] };
	const parsed = schema.safeParse(value);
	if (parsed.success) return { ok: true, value: parsed.data };
	return { ok: false, json: true, errors: parsed.error.issues.slice(0, TOLD).map(describeIssue) };
}

/** The first error of a body, as a refusal of a field. */
export const firstRefusal = (errors: readonly { path: string; message: string }[]) => {
	const { path = '', message = 'cannot be read' } = errors[0] ?? {};
	return { field: path.replace(/^change\./, '') || 'form', message };
};
