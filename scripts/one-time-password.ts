import process from 'node:process';
import { closeDatabase, database } from '../src/lib/server/database/connection';
import { resetPassword } from '../src/lib/server/identity/users';

const signIn = (process.argv[2] ?? '').trim().toLowerCase();
const answer = await resetPassword(await database(), 'the shell of the machine', Date.now(), {
	sign_in: signIn
});
console.log(
	answer.ok
		? `One-time password of ${answer.name}, good for one sign-in within two days: ${answer.password}`
		: `${signIn || 'that'} ${answer.message}`
);
await closeDatabase();
process.exit(answer.ok ? 0 : 1);
