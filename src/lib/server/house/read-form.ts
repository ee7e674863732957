import { unsoundText } from '$lib/core/units/sound-value';

export type FormAnswer =
	| { ok: true; values: Record<string, string> }
	| { ok: false; values: Record<string, string>; problems: Record<string, string> };

const MOST_FIELDS = 200;

/** The texts of a form, by field; the last one where a field comes twice. What could not be stored is refused by its field. */
export async function readForm(request: Request): Promise<FormAnswer> {
	const values: Record<string, string> = Object.create(null) as Record<string, string>;
	const problems: Record<string, string> = {};
	let count = 0;
	for (const [name, value] of await request.formData()) {
		if (++count > MOST_FIELDS)
			return { ok: false, values: {}, problems: { form: 'has too many fields; reload the page' } };
		if (typeof value !== 'string') problems[name] = 'is a file; write text';
		else {
			values[name] = value;
			const odd = unsoundText(value) ?? unsoundText(name);
			if (odd) problems[name] = odd;
		}
	}
	const plain = { ...values };
	return Object.keys(problems).length > 0
		? { ok: false, values: plain, problems }
		: { ok: true, values: plain };
}
