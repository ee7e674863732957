import { expect, it } from 'vitest';
import { cellLimits } from '../charging/cell-limits';
import { CATALOG_KINDS } from '../catalog/kinds';
import { CHEMISTRIES, chemistryOf } from './chemistry';

it.each([
	['li-ion', 'li-ion'],
	['Li-Ion', 'li-ion'],
	['LI ION', 'li-ion'],
	['liion', 'li-ion'],
	['Li-Ion HV', 'li-ion-hv'],
	['LiFePO4', 'lifepo4'],
	['life-po4', 'lifepo4'],
	['NiMH', 'ni-mh'],
	['Ni MH', 'ni-mh'],
	['', null],
	['nimh2', null],
	['lead', null],
	['toString', null]
])('%j is %s', (text, chemistry) => expect(chemistryOf(text)).toBe(chemistry));
it('limits are those of what is meant, however it is spelt', () => {
	expect(cellLimits('Ni MH').full).toBe(1.45);
	expect(cellLimits('LIFEPO4').full).toBe(3.65);
	expect(cellLimits(undefined)).toBe(cellLimits('li-ion'));
	expect(new Set(CHEMISTRIES.map((chemistry) => cellLimits(chemistry).label)).size).toBe(CHEMISTRIES.length);
});
it('a model of another chemistry is refused with the list', () => {
	const model = (chemistry: string) =>
		CATALOG_KINDS.model.schema.safeParse({
			record: 'model',
			code: 'm',
			label: 'M',
			battery: { chemistry, cells: 1, capacity_mah: 1000 }
		});
	expect(model('LiFePO4').data?.battery?.chemistry).toBe('LiFePO4');
	const refused = model('lead-acid').error?.issues[0];
	expect(refused?.path).toEqual(['battery', 'chemistry']);
	expect(refused?.message).toBe(
		'is "lead-acid"; limits are known of li-ion, li-ion-hv, lifepo4, ni-mh, in any spelling of case, space and hyphen'
	);
});
