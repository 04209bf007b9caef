export { tidyTree, type TreeGaps, type TreePlaces, type TreeShape } from './tidyTree'
