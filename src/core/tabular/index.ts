export { pasteCells } from './paste'
export { harmless, registerCells, registerCsv } from './csv'
export { readXlsx, writeXlsx } from './xlsx'
export { guessMapping, mappedRows, readTable, tableOf } from './table'
