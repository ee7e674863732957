import { readlinkSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import process from 'node:process';

/** How far a thread beside stands behind the server's own, which answers every click. A choice; 19 is the most. */
const NICENESS = 5;

/**
 * Where cores are few, the system gives them to the thread of the pages first. On Linux niceness is a thread's own (setpriority(2), "C
 * library/kernel differences"); elsewhere there is no such name, and nothing is done.
 */
export function standBehind(): void {
	try {
		const id = Number(path.basename(readlinkSync('/proc/thread-self')));
		if (Number.isInteger(id) && id !== process.pid) os.setPriority(id, NICENESS);
	} catch {
		// not Linux, or not allowed: all threads are equal
	}
}
