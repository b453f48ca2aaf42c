/** Stands for Node's `module` in the browser's bundle; nothing of it is used there. */
export const createRequire = undefined
