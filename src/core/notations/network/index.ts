import { loadLand } from '../../maps'
import type { Model } from '../../model'
import type { Notation } from '../../notation'
import { hostsExport } from './formats/hosts'
import { cableTable, deviceTable } from './formats/tables'
import { topologyExport } from './formats/writeTopology'
import { graphMlExport } from './formats/writeGraphMl'
import { handling } from './handling'
import { measuresOf } from './measures'
import { numbers } from './numbers'
import { addresses } from './pictures/addresses'
import { racks } from './pictures/racks'
import { sites } from './pictures/sites'
import { zones } from './pictures/zones'
import { rules } from './rules'
import { starters } from './starters'
import { packet } from './trials'

/** What is joined to what, on any day. */
export const network: Notation = {
  ...handling,
  pictures: [zones, addresses, sites, racks],
  prepare,
  rules,
  numbers,
  measures: measuresOf,
  imports: [deviceTable, cableTable],
  files: [
    {
      id: 'topology',
      title: 'Network topology (RFC 8345)',
      extensions: ['.json'],
      load: () => import('./formats/readTopology'),
    },
    { id: 'graphml', title: 'GraphML', extensions: ['.graphml'], load: () => import('./formats/readGraphMl') },
  ],
  exports: [topologyExport, graphMlExport, hostsExport],
  starters,
  trials: [packet],
}

/** Coasts are loaded where there are sites to be drawn on a map, and where a map lies behind a picture. */
function prepare(model: Model): Promise<unknown> | undefined {
  const isPlaced = model.ofKind('site').some(({ fields }) => typeof fields['latitude'] === 'number')
  const isBehind = [...model.views.values()].some(({ look }) => look['ground'] === 'map')
  return isBehind || (isPlaced && model.ofKind('device').length > 0) ? loadLand() : undefined
}
