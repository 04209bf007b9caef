export { pasteCells } from './paste'
export { harmless, registerCsv } from './csv'
export { guessMapping, mappedRows, readTable, type Table } from './table'
