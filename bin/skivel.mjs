#!/usr/bin/env node
import { commandLine } from '../scripts/lib/commandLine.mjs'

const { main } = await commandLine()
process.exitCode = await main(
  process.argv.slice(2),
  (text) => process.stdout.write(text),
  (text) => process.stderr.write(text),
)
