export { tidyTree, type TreeGaps, type TreePlaces, type TreeShape } from './tidyTree'
export { rightAngledWay, type Obstacle, type Point } from './rightAngled'
export * from './flowchart'
