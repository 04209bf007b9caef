import type { Notation } from '../../notation'
import { classTable } from './formats/classTable'
import { ddlExport } from './formats/ddl'
import { jsonSchemaExport } from './formats/jsonSchema'
import { handling } from './handling'
import { measuresOf } from './measures'
import { numbers } from './numbers'
import { classes } from './pictures/classes'
import { components } from './pictures/components'
import { packages } from './pictures/packages'
import { sequence } from './pictures/sequence'
import { states } from './pictures/states'
import { useCases } from './pictures/useCases'
import { xmiExport } from './formats/xmiExport'
import { rules } from './rules'
import { starters } from './starters'

/** What software is made of, on any day. */
export const uml: Notation = {
  ...handling,
  pictures: [classes, packages, states, sequence, useCases, components],
  rules,
  numbers,
  measures: measuresOf,
  imports: [classTable],
  files: [
    {
      id: 'database',
      title: 'Database',
      extensions: [],
      asked: 'database',
      load: () => import('./formats/readSchema'),
    },
    { id: 'xmi', title: 'XMI', extensions: ['.xmi', '.uml', '.xml'], load: () => import('./formats/xmi') },
    { id: 'ddl', title: 'SQL', extensions: ['.sql', '.ddl'], load: () => import('./formats/readDdl') },
  ],
  exports: [xmiExport, jsonSchemaExport, ddlExport],
  starters,
}
