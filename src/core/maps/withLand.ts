import { provideLand } from './land'
import { shipped } from './landList'

// For a program that waits for nothing: the outlines are there from the beginning.
provideLand(shipped)
