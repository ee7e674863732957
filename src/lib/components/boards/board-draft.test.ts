import { describe, expect, it } from 'vitest';
import { BoardDraft } from './board-draft.svelte';

const board = {
	version: 3,
	code: 'm',
	points: [
		{ code: 'a', label: 'A', ground: 'one-side' as const, with: 'b', x: 10, y: 20 },
		{ code: 'b', label: 'B', ground: 'one-side' as const, with: 'a', side: 'back' as const, x: 50, y: 50 },
		{ code: 'c', label: 'C', ground: 'never' as const }
	],
	pictures: { front: 'f'.repeat(64) }
};
function opened() {
	const draft = new BoardDraft();
	draft.open(board);
	return draft;
}
const codes = (draft: BoardDraft) => draft.points.map(({ code }) => code);

describe('a board while its points are placed', () => {
	it('stands as it is stored until something is entered', () => {
		const draft = opened();
		expect([draft.isChanged, draft.current, draft.picture]).toEqual([
			false,
			null,
			`/boards/${'f'.repeat(64)}`
		]);
		draft.add();
		expect(draft.isChanged).toBe(true);
	});
	it('keeps what was entered where the same board comes again, and goes with another', () => {
		const draft = opened();
		draft.add();
		draft.open({ ...board });
		expect(codes(draft)).toHaveLength(4);
		draft.open({ ...board, version: 4 });
		expect([codes(draft).length, draft.isChanged]).toEqual([3, false]);
		draft.pick('b');
		draft.open({ ...board, code: 'n', version: 1 });
		expect([draft.current, draft.side]).toEqual([null, 'front']);
	});
	it('shows the side of the point that is chosen', () => {
		const draft = opened();
		draft.pick('b');
		expect([draft.side, draft.picture]).toEqual(['back', null]);
		// one without a place stands on no side
		draft.pick('c');
		expect(draft.side).toBe('back');
	});
	it('a point goes where the board was pointed at; a new one begins where none waits for its place', () => {
		const draft = opened();
		draft.place(33.33, 120);
		expect(draft.points.at(-1)).toEqual({
			code: 'p4',
			label: 'Point 4',
			side: 'front',
			ground: 'never',
			x: 33.3,
			y: 100
		});
		draft.pick('c');
		draft.place(1, 2);
		expect(draft.points[2]).toMatchObject({ code: 'c', side: 'front', x: 1, y: 2 });
		// the chosen one sits on the other side: it stays there
		draft.side = 'back';
		draft.place(5, 6);
		expect([draft.points.length, draft.points.at(-1)?.side]).toEqual([5, 'back']);
		expect(draft.points[2]).toMatchObject({ x: 1, y: 2 });
	});
	it('moves by keys within the picture', () => {
		const draft = opened();
		draft.pick('a');
		draft.nudge([-1, 0], false);
		expect(draft.current?.x).toBe(9.5);
		for (let i = 0; i < 5; i++) draft.nudge([-1, -1], true);
		expect([draft.current?.x, draft.current?.y]).toEqual([0, 0]);
		draft.pick('c');
		draft.nudge([1, 1], false);
		expect(draft.current?.x).toBeUndefined();
	});
	it('is renamed with what names it, never to a code that is taken', () => {
		const draft = opened();
		draft.pick('a');
		draft.rename('b');
		draft.rename('  ');
		expect(codes(draft)).toEqual(['a', 'b', 'c']);
		draft.rename(' c12 ');
		expect(codes(draft)).toEqual(['c12', 'b', 'c']);
		expect(draft.points[1]?.with).toBe('c12');
		expect(draft.current?.code).toBe('c12');
	});
	it('a field that was emptied is left out, the name that must be there is not', () => {
		const draft = opened();
		draft.pick('c');
		draft.set('chip', 'port-chip');
		draft.set('faults', ['input-fuse']);
		expect(draft.chips).toEqual(['port-chip']);
		draft.set('chip', '');
		draft.set('faults', []);
		draft.set('label', '');
		expect(draft.current).toEqual({ code: 'c', label: '', ground: 'never' });
		draft.setNumber('minutes', '1,5');
		expect(draft.current?.minutes).toBe(1.5);
		draft.setNumber('minutes', 'soon');
		expect(draft.current?.minutes).toBe('soon');
	});
	it('what it should read is stated and taken back; ground that is not one of two ends names none', () => {
		const draft = opened();
		draft.pick('a');
		draft.setExpected('low', '0.4');
		expect(draft.current?.expect).toEqual({ mode: 'diode', low: 0.4, high: 0 });
		draft.setExpected('mode', 'ohms');
		expect(draft.current?.expect?.mode).toBe('ohms');
		draft.setExpected('mode', '');
		expect(draft.current?.expect).toBeUndefined();
		draft.setGround('never');
		expect(draft.current).toMatchObject({ ground: 'never' });
		expect(draft.current).not.toHaveProperty('with');
	});
	it('goes earlier and later in probing order, and away', () => {
		const draft = opened();
		draft.move('a', -1);
		draft.move('c', 1);
		expect(codes(draft)).toEqual(['a', 'b', 'c']);
		draft.move('c', -1);
		expect(codes(draft)).toEqual(['a', 'c', 'b']);
		draft.pick('c');
		draft.remove();
		expect([codes(draft), draft.current]).toEqual([['a', 'b'], null]);
	});
	it('a picture that was just sent is shown as this page has it, and sent by its hash', () => {
		const draft = opened();
		draft.side = 'back';
		draft.showPicture('e'.repeat(64), 'blob:here');
		expect(draft.picture).toBe('blob:here');
		expect(JSON.parse(draft.text)).toMatchObject({
			pictures: { front: 'f'.repeat(64), back: 'e'.repeat(64) }
		});
		draft.dropPicture();
		expect(draft.picture).toBeNull();
		expect(JSON.parse(draft.text).pictures).toEqual({ front: 'f'.repeat(64) });
	});
});
