import { expect, it } from 'vitest';
import Papa from 'papaparse';
import { csvResponse } from '$lib/server/http/csv-response';

it('a table as a file: read back as it was, formulas made harmless, numbers left alone', async () => {
	const answer = csvResponse(
		'books',
		['name', 'profit', 'note'],
		[
			['=HYPERLINK("http://x","y")', -12.5, 'plain, with a comma'],
			['@sum', 3, '-1+2'],
			['＝SUM(1)', 4, '＋1+2'],
			['+49 1', 0, null],
			['Wren "Bo" Tarn', 1, 'two\nlines']
		]
	);
	expect(answer.headers.get('content-type')).toContain('text/csv');
	expect(answer.headers.get('content-disposition')).toBe('attachment; filename="books.csv"');
	const bytes = new Uint8Array(await answer.arrayBuffer());
	expect([...bytes.slice(0, 3)]).toEqual([0xef, 0xbb, 0xbf]);
	const text = new TextDecoder().decode(bytes);
	expect(text).toContain('\r\n');
	expect(Papa.parse<string[]>(text.trim()).data).toEqual([
		['name', 'profit', 'note'],
		[`'=HYPERLINK("http://x","y")`, '-12.5', 'plain, with a comma'],
		["'@sum", '3', "'-1+2"],
		["'＝SUM(1)", '4', "'＋1+2"],
		["'+49 1", '0', ''],
		['Wren "Bo" Tarn', '1', 'two\nlines']
	]);
});
