import { valueAt } from '../units/vector';
/**
 * Lower triangle L of a symmetric positive definite matrix A = L L', row by row in one array of n². The upper part of the input is not
 * read. Textbook algorithm (Golub & Van Loan, Matrix Computations, 4.2).
 * @throws RangeError where the matrix is not positive definite
 */
export function cholesky(matrix: Float64Array, n: number): Float64Array {
	const lower = new Float64Array(n * n);
	for (let i = 0; i < n; i++) {
		for (let j = 0; j <= i; j++) {
			let sum = valueAt(matrix, i * n + j);
			for (let k = 0; k < j; k++) sum -= valueAt(lower, i * n + k) * valueAt(lower, j * n + k);
			if (i !== j) lower[i * n + j] = sum / valueAt(lower, j * n + j);
			else if (sum > 0) lower[i * n + i] = Math.sqrt(sum);
			else throw new RangeError('cholesky: the matrix is not positive definite');
		}
	}
	return lower;
}

/** The solution x of L L' x = b. */
export function choleskySolve(lower: Float64Array, n: number, b: Float64Array): Float64Array {
	const x = Float64Array.from(b);
	for (let i = 0; i < n; i++) {
		let sum = valueAt(x, i);
		for (let k = 0; k < i; k++) sum -= valueAt(lower, i * n + k) * valueAt(x, k);
		x[i] = sum / valueAt(lower, i * n + i);
	}
	for (let i = n - 1; i >= 0; i--) {
		let sum = valueAt(x, i);
		for (let k = i + 1; k < n; k++) sum -= valueAt(lower, k * n + i) * valueAt(x, k);
		x[i] = sum / valueAt(lower, i * n + i);
	}
	return x;
}

/** The inverse of A = L L', row by row in one array of n². */
export function inverse(lower: Float64Array, n: number): Float64Array {
	const full = new Float64Array(n * n);
	const columns = Array.from({ length: n }, (_, c) => {
		const column = new Float64Array(n);
		for (let i = c; i < n; i++) {
			let sum = i === c ? 1 : 0;
			for (let k = c; k < i; k++) sum -= valueAt(lower, i * n + k) * valueAt(column, k);
			column[i] = sum / valueAt(lower, i * n + i);
		}
		return column;
	});
	for (let a = 0; a < n; a++) {
		for (let b = 0; b <= a; b++) {
			let sum = 0;
			for (let i = a; i < n; i++) sum += (columns[a]?.[i] as number) * (columns[b]?.[i] as number);
			full[a * n + b] = full[b * n + a] = sum;
		}
	}
	return full;
}
