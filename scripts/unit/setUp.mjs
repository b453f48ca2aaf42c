import fc from 'fast-check'

// What reads TypeScript here is for the tests alone: programs that they start are the built ones, and start as ever.
delete process.env.NODE_OPTIONS

// When all has been run this process is let go; what a test left open would keep it, and its output, for ever.
process.once('disconnect', () => process.exit())

// A property that fails says why, beside the counterexample.
fc.configureGlobal({ includeErrorInReport: true })
