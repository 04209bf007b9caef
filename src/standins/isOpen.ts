/** Whether the simulated outside world is there at all: a server that is used in earnest does without it, with `SKIVEL_STANDINS=no`. */
export const hasStandins = (): boolean => process.env['SKIVEL_STANDINS'] !== 'no'
