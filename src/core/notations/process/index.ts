import type { Notation } from '../../notation'
import { stepTable } from './formats/stepTable'
import { bpmnExport } from './formats/writeBpmn'
import { handling } from './handling'
import { measuresOf, numbers } from './numbers'
import { flow, lanes } from './pictures/lanes'
import { raci } from './pictures/raci'
import { rules } from './rules'
import { starters } from './starters'
import { processShown } from './structure'

/** Who does what, in which order, on any day. */
export const process: Notation = {
  ...handling,
  pictures: [lanes, flow, raci],
  rules,
  numbers,
  measures: (model, day, selected, view) => measuresOf(selected, processShown(model, view, day)),
  imports: [stepTable],
  files: [{ id: 'bpmn', title: 'BPMN 2.0', extensions: ['.bpmn', '.xml'], load: () => import('./formats/readBpmn') }],
  exports: [bpmnExport],
  starters,
}
