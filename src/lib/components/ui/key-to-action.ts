/** What of a key press tells for whom it was meant. */
export type KeyPress = Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'altKey' | 'target'>;

const FIELDS = /^(INPUT|TEXTAREA|SELECT)$/;

/** Whether somebody is writing: single keys are letters then. */
function isWriting(target: EventTarget | null): boolean {
	const { tagName = '', isContentEditable = false } = (target ?? {}) as Partial<HTMLElement>;
	return FIELDS.test(tagName) || isContentEditable;
}

const dialogIsOpen = () => document.querySelector('[role=dialog]') !== null;

/** Whether a single key was meant for the view: nobody writes, no modifier is held, no dialog lies over it. */
export function isForView(event: KeyPress, { overDialogs = false } = {}): boolean {
	if (isWriting(event.target) || event.ctrlKey || event.metaKey || event.altKey) return false;
	return overDialogs || !dialogIsOpen();
}

/**
 * What a single key does in a view by its table of keys; null where it was not meant for it, or does nothing.
 * @example keyToAction({ j: 'find', n: 'take-in' }, event) // 'find'
 */
export function keyToAction<Action>(
	table: Readonly<Record<string, Action>>,
	event: KeyPress,
	options?: { overDialogs?: boolean }
): Action | null {
	return isForView(event, options) && Object.hasOwn(table, event.key) ? (table[event.key] as Action) : null;
}
