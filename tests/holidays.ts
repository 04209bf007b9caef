// Rules and pictures are asked at once in tests: the list of holidays is there from the beginning.
import '../src/core/calendar/withHolidays'
import '../src/core/maps/withLand'
