/** Width of the names beside the lanes, px. */
export const names = 112
/** Height of the graph of a channel, px. */
export const graphHeight = 92
/** Height of a lane, px. */
export const laneHeight = 24
/** Room beside the names for half of a key that stands at the first frame, px. */
export const keyRoom = 6
