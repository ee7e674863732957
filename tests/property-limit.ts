import fc from 'fast-check';

/** A property that fails is made smaller until its time is over, and then told: without a limit that may take hours. */
fc.configureGlobal({ interruptAfterTimeLimit: 120_000, markInterruptAsFailure: true });
