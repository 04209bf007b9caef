// A worker's own program: the core is TypeScript and is run as it stands, as on the command line.
import { register } from 'tsx/esm/api'

register()
await import('./worker.ts')
