import fc from 'fast-check'

// What reads TypeScript here is for the tests alone: programs that they start are the built ones, and start as ever.
delete process.env.NODE_OPTIONS

// A property that fails says why, beside the counterexample.
fc.configureGlobal({ includeErrorInReport: true })
