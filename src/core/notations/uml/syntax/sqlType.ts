/** Types as a database writes them. */

const STRING = "'(?:[^'\\\\]|''|\\\\.)*'"
/** `VARCHAR(9)`, `DECIMAL(10, 2)`, `INT UNSIGNED`, `ENUM('a', 'b')`. */
export const SQL_TYPE = `[A-Z]\\w*(?:\\s+PRECISION)?(?:\\s*\\((?:[^()']|${STRING})*\\))?(?:\\s+(?:UNSIGNED|SIGNED|ZEROFILL))*`
export const SQL_STRING = STRING

const WHOLE = new RegExp(`^${SQL_TYPE}$`, 'i')
/** Longer ones are not read. */
const LONGEST = 4000

/** Why a text is no type of a database; undefined where it may be one. */
export const unreadType = (text: string): string | undefined =>
  text.length <= LONGEST && WHOLE.test(text.trim())
    ? undefined
    : `“${text.slice(0, 40)}” is no type of a database: write VARCHAR(9), DECIMAL(10, 2) or INT UNSIGNED.`
