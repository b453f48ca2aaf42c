// The runner tells all of its processes what they are to run with as soon as the first of them asks, and never again: one
// that was still starting then would wait for ever. What came early is kept here, and given when it is asked for.
if (process.send) {
  let kept
  const { emit, send } = process
  process.emit = function (event, message, ...more) {
    if (event === 'message' && message?.type === 'jest-light-runner-worker-data') kept = message
    return emit.call(this, event, message, ...more)
  }
  process.send = function (message, ...more) {
    if (message !== 'jest-light-runner-get-worker-data' || !kept) return send.call(this, message, ...more)
    setImmediate(() => process.emit('message', kept))
    return true
  }
}
