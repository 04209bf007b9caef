// Programs that begin often are compiled into one: the core is TypeScript, and compiling some hundred files at each start takes longer than most of their work.
import { build } from 'esbuild'

/** Loaded from its own package when it is needed: what is native, or large and seldom used. */
const APART = ['sharp', '@resvg/resvg-js', 'pdfkit', 'fontkit', 'docx', 'exceljs', 'mysql2']
// Packages of the older kind ask for others by `require`.
const BANNER = "import { createRequire as requireOf } from 'node:module'; const require = requireOf(import.meta.url);"

/** A program of TypeScript and what it imports as files of JavaScript in a folder. */
export const bundle = (entry, outdir) =>
  build({
    entryPoints: [entry],
    bundle: true,
    splitting: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    outdir,
    outExtension: { '.js': '.mjs' },
    external: APART,
    banner: { js: BANNER },
    logLevel: 'error',
  })
