/** Width of the names beside the lanes, px. */
export const names = 112
/** Height of a lane, px. */
export const laneHeight = 24
