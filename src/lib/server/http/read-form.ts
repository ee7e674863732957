import { error } from '@sveltejs/kit';
import type { z } from 'zod';
import { describeIssue } from '$lib/core/exchange/read-lines';
import { unsoundText } from '$lib/core/units/sound-value';

/** The texts of a form as they came, by field, and what is wrong with them. */
interface Texts {
	values: Record<string, string>;
	problems: Record<string, string>;
}

/** What was typed stays with the form, whether or not it was good; what is wrong stands at its field. */
export type FormAnswer<Value> =
	| { ok: true; value: Value; kept: Record<string, string> }
	| { ok: false; problems: Record<string, string>; kept: Record<string, string> };

/** What is never sent back to the page. */
const SECRET = /^(password|current|again)$/;

const MOST_FIELDS = 200;

/**
 * Reads a form by its schema, or words what is wrong, field by field.
 * @param shaped what the schema is given of the texts: as they are, unless the form writes something another way
 */
export async function readForm<Schema extends z.ZodType>(
	request: Request,
	schema: Schema,
	shaped: (values: Record<string, string>) => unknown = (values) => values
): Promise<FormAnswer<z.output<Schema>>> {
	const { values, problems } = await textsOf(request);
	const kept = Object.fromEntries(Object.entries(values).filter(([name]) => !SECRET.test(name)));
	if (Object.keys(problems).length > 0) return { ok: false, problems, kept };
	const parsed = schema.safeParse(shaped(values));
	return parsed.success
		? { ok: true, value: parsed.data, kept }
		: { ok: false, problems: problemsOf(parsed.error.issues.map(describeIssue)), kept };
}

/** Errors by the field of the form that they belong to. */
export const problemsOf = (errors: readonly { path: string; message: string }[]): Record<string, string> =>
	Object.fromEntries(errors.map(({ path, message }) => [path.split('.')[0] ?? '', message]));

/** The texts of a form, by field; the last one where a field comes twice. What could not be stored is refused by its field. */
async function textsOf(request: Request): Promise<Texts> {
	const values = new Map<string, string>();
	const problems: Record<string, string> = {};
	let count = 0;
	for (const [name, value] of await formOf(request)) {
		if (++count > MOST_FIELDS) {
			return { values: {}, problems: { form: 'has too many fields; reload the page' } };
		}
		if (typeof value !== 'string') problems[name] = 'is a file; write text';
		else {
			values.set(name, value);
			const odd = unsoundText(value) ?? unsoundText(name);
			if (odd) problems[name] = odd;
		}
	}
	return { values: Object.fromEntries(values), problems };
}

async function formOf(request: Request): Promise<FormData> {
	try {
		return await request.formData();
	} catch {
		return error(
			400,
			'The form could not be read: it is not written as forms are. Reload the page and send it again.'
		);
	}
}
