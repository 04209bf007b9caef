import { starterFrom, type Starter } from '../../notation'
import { handling } from './handling'
import { outline } from './outline'

const starter = starterFrom(outline, handling.view)

export const starters: readonly Starter[] = [
  starter(
    'team',
    'Team and assistant',
    'One lead, an assistant, a handful of people',
    `vacant — Team lead
  vacant — Assistant (assistant)
  vacant — Analyst
  vacant — Planner
  vacant — Engineer
  vacant — Service desk`,
  ),
  starter(
    'departments',
    'Departments',
    'A head, four departments, their staff',
    `vacant — Managing director
  vacant — Assistant (assistant)
  vacant — Head of operations
    vacant — Duty controller
    vacant — Duty controller
    vacant — Planner
  vacant — Head of finance
    vacant — Accountant
    vacant — Payroll clerk
  vacant — Head of people
    vacant — Recruiter
    vacant — Trainer
  vacant — Head of technology
    vacant — Systems engineer
    vacant — Service desk`,
  ),
  starter(
    'sites',
    'Region with sites',
    'One regional office, three sites with shifts',
    `vacant — Regional manager
  vacant — Regional coordinator (assistant)
  vacant — Site manager, north
    vacant — Early shift lead
      vacant — Operator
      vacant — Operator
    vacant — Late shift lead
      vacant — Operator
  vacant — Site manager, south
    vacant — Early shift lead
      vacant — Operator
    vacant — Late shift lead
      vacant — Operator
  vacant — Safety officer`,
  ),
]
