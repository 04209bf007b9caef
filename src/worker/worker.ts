import { expose } from 'comlink'
import { makeEngine } from './engine'

expose(makeEngine())
