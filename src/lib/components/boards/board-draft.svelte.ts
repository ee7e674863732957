import { sideOf, type BoardPoint, type BoardSide } from '$lib/core/catalog/kinds-of-devices';
import { readNumber } from '$lib/core/units/typed-number';

interface Board {
	version: number;
	code: string;
	points: readonly BoardPoint[];
	pictures: { [Side in BoardSide]?: string | undefined };
}

/** Per cent of the picture that one key moves a point by. */
const NUDGE = 0.5;
const FAR = 5;
const onPicture = (share: number) => Math.round(Math.min(100, Math.max(0, share)) * 10) / 10;

/** The points of one board while they are placed: what is typed stays here until the whole board is saved. */
export class BoardDraft {
	points = $state.raw<readonly BoardPoint[]>([]);
	side = $state<BoardSide>('front');
	/** code of the point that is worked at */
	#chosen = $state<string | null>(null);
	#pictures = $state.raw<Board['pictures']>({});
	/** pictures that were sent and are of no board yet, as this page has them */
	#shown = $state.raw<Readonly<Record<string, string>>>({});
	#opened = $state.raw<{ key: string; text: string }>({ key: '', text: '' });

	current = $derived.by(() => this.points.find(({ code }) => code === this.#chosen) ?? null);
	/** as it is sent */
	text = $derived.by(() => JSON.stringify({ points: this.points, pictures: this.#pictures }));
	isChanged = $derived.by(() => this.text !== this.#opened.text);
	chips = $derived.by(() => [...new Set(this.points.flatMap(({ chip }) => chip ?? []))]);
	/** address of the picture of this side */
	picture = $derived.by(() => {
		const hash = this.#pictures[this.side];
		return hash === undefined ? null : (this.#shown[hash] ?? `/boards/${hash}`);
	});

	/** Takes a board as it is stored; the same one again leaves what was entered meanwhile. */
	open(board: Board | null): void {
		const key = board ? `${board.code} ${board.version}` : '';
		if (this.#opened.key === key) return;
		const isSame = this.#opened.key.split(' ')[0] === board?.code;
		this.points = board?.points ?? [];
		this.#pictures = board?.pictures ?? {};
		this.#opened = { key, text: JSON.stringify({ points: this.points, pictures: this.#pictures }) };
		if (!isSame) {
			this.#chosen = null;
			this.side = 'front';
		}
	}

	pick(code: string): void {
		this.#chosen = code;
		const point = this.current;
		if (point?.x !== undefined) this.side = sideOf(point);
	}

	/** A new point on this side, under the first number that is free. */
	add(at: Pick<BoardPoint, 'x' | 'y'> = {}): void {
		const codes = new Set(this.points.map(({ code }) => code));
		let number = this.points.length + 1;
		while (codes.has(`p${number}`)) number += 1;
		const code = `p${number}`;
		this.points = [
			...this.points,
			{ code, label: `Point ${number}`, side: this.side, ground: 'never', ...at }
		];
		this.#chosen = code;
	}

	remove(): void {
		const removed = this.#chosen;
		this.points = this.points.filter(({ code }) => code !== removed);
		this.#chosen = null;
	}

	/** The chosen point goes where the board was pointed at; a new one begins where none waits for its place. */
	place(x: number, y: number): void {
		const point = this.current;
		const isHere = point !== null && (point.x === undefined || sideOf(point) === this.side);
		if (!isHere) this.add({ x: onPicture(x), y: onPicture(y) });
		else this.#change({ x: onPicture(x), y: onPicture(y), side: this.side });
	}

	/** Moves the chosen point by a key's step. */
	nudge([stepsX, stepsY]: readonly [number, number], isFar: boolean): void {
		const { x, y } = this.current ?? {};
		if (x === undefined || y === undefined) return;
		const step = isFar ? FAR : NUDGE;
		this.#change({ x: onPicture(x + stepsX * step), y: onPicture(y + stepsY * step) });
	}

	/** One field of the chosen point; nothing, or an empty text, takes it out. */
	set<Key extends keyof BoardPoint>(key: Key, value: BoardPoint[Key] | '' | undefined): void {
		const isEmpty = value === undefined || value === '' || (Array.isArray(value) && value.length === 0);
		// what must be there stays as it was typed, and is refused by its name
		this.#change({ [key]: isEmpty && key !== 'label' ? undefined : value });
	}

	setNumber(key: 'minutes', typed: string): void {
		this.set(key, (readNumber(typed) ?? typed) as number);
	}

	setGround(ground: string): void {
		this.#change({
			ground: ground as BoardPoint['ground'],
			with: ground === 'one-side' ? this.current?.with : undefined
		});
	}

	setExpected(part: 'mode' | 'low' | 'high', typed: string): void {
		const stated = this.current?.expect ?? { mode: 'diode', low: 0, high: 0 };
		if (part === 'mode' && typed === '') return this.#change({ expect: undefined });
		const value = part === 'mode' ? typed : (readNumber(typed) ?? typed);
		this.#change({ expect: { ...stated, [part]: value } as BoardPoint['expect'] });
	}

	/** Another code; what names it as its other end follows. */
	rename(typed: string): void {
		const previous = this.#chosen;
		const code = typed.trim();
		if (code === '' || code === previous || this.points.some((point) => point.code === code)) return;
		this.points = this.points.map((point) => ({
			...point,
			code: point.code === previous ? code : point.code,
			...(point.with === previous ? { with: code } : {})
		}));
		this.#chosen = code;
	}

	/** Earlier or later in probing order. */
	move(code: string, offset: -1 | 1): void {
		const from = this.points.findIndex((point) => point.code === code);
		const to = from + offset;
		if (from < 0 || to < 0 || to >= this.points.length) return;
		const moved = this.points[from] as BoardPoint;
		this.points = this.points.toSpliced(from, 1).toSpliced(to, 0, moved);
	}

	showPicture(hash: string, address: string): void {
		this.#shown = { ...this.#shown, [hash]: address };
		this.#pictures = { ...this.#pictures, [this.side]: hash };
	}
	dropPicture(): void {
		const { [this.side]: _, ...remaining } = this.#pictures;
		this.#pictures = remaining;
	}

	#change(change: Partial<Record<keyof BoardPoint, unknown>>): void {
		this.points = this.points.map((point) => {
			if (point.code !== this.#chosen) return point;
			const changed = Object.entries({ ...point, ...change }).filter(([, value]) => value !== undefined);
			return Object.fromEntries(changed) as BoardPoint;
		});
	}
}
