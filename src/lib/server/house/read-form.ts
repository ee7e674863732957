import { error } from '@sveltejs/kit';
import { unsoundText } from '$lib/core/units/sound-value';

export type FormAnswer =
	| { ok: true; values: Record<string, string> }
	| { ok: false; values: Record<string, string>; problems: Record<string, string> };

const MOST_FIELDS = 200;

/** The texts of a form, by field; the last one where a field comes twice. What could not be stored is refused by its field. */
export async function readForm(request: Request): Promise<FormAnswer> {
	const values = new Map<string, string>();
	const problems: Record<string, string> = {};
	let count = 0;
	for (const [name, value] of await formOf(request)) {
		if (++count > MOST_FIELDS) {
			return { ok: false, values: {}, problems: { form: 'has too many fields; reload the page' } };
		}
		if (typeof value !== 'string') problems[name] = 'is a file; write text';
		else {
			values.set(name, value);
			const odd = unsoundText(value) ?? unsoundText(name);
			if (odd) problems[name] = odd;
		}
	}
	const texts = Object.fromEntries(values);
	return Object.keys(problems).length > 0
		? { ok: false, values: texts, problems }
		: { ok: true, values: texts };
}

/** One field of a form that has no other; empty where it is missing. */
export async function fieldOf(request: Request, name: string): Promise<string> {
	const read = await readForm(request);
	return read.ok ? (read.values[name] ?? '') : '';
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
