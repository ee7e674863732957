import Papa from 'papaparse';

/** A cell of a table that is carried to a spreadsheet. */
export type Cell = string | number | null;

/**
 * A table as a file: UTF-8 with its mark, so that spreadsheets read it as that, and texts that would be run as formulas made harmless
 * (CSV injection, OWASP; the library puts an apostrophe before them).
 */
export function csvResponse(
	name: string,
	header: readonly string[],
	rows: readonly (readonly Cell[])[]
): Response {
	const text = Papa.unparse(
		{ fields: [...header], data: rows.map((row) => [...row]) },
		{ escapeFormulae: /^[=+\-@\t\r＝＋－＠](?![\d.,]+$)/, newline: '\r\n' }
	);
	return new Response(`\uFEFF${text}\r\n`, {
		headers: {
			'content-type': 'text/csv; charset=utf-8',
			'content-disposition': `attachment; filename="${name}.csv"`
		}
	});
}
