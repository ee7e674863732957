import fc from 'fast-check';

/** A change that is noticed is noticed: the smallest case that shows it is not looked for, which can take minutes. */
fc.configureGlobal({ endOnFailure: true });
