export * from './mark'
export * from './theme'
export * from './text'
export { painted, svgSize, toSvg, type SvgOptions } from './svg'
