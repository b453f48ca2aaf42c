/**
 * Whether every object has something by this name (`constructor`, `toString`): as the name of a thing that people look up
 * it would be found where it isn't.
 */
export const isInherited = (name: string): boolean => name in Object.prototype
