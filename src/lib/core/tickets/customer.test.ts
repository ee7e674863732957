import { describe, expect, it } from 'vitest';
import { customerFields } from './customer';

const typed = (email: string) => customerFields.safeParse({ name: 'Vida Oakum', kind: 'private', email });

describe('a mail address, as it is typed', () => {
	it.each(['', 'vida@example.net', ' vida@example.net ', 'v.o+shop@mail.example.co.uk', "o'kum@example.net"])(
		'%j is taken',
		(email) => expect(typed(email).success).toBe(true)
	);
	it.each([
		'vida',
		'vida@',
		'@example.net',
		'vida@example',
		'vida@exa mple.net',
		'vida@example.net, pia@example.net',
		'Vida <vida@example.net>',
		'vida@@example.net',
		'vida@example..net'
	])('%j is refused with what to do', (email) => {
		const { error } = typed(email);
		expect(error?.issues[0]?.path).toEqual(['email']);
		expect(error?.issues[0]?.message).toBe(
			`is ${email}, which is no mail address; write it as name@example.net, or leave it empty`
		);
	});
});
