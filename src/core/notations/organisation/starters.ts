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
    'group crew squad small',
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
    'company org chart hierarchy divisions firm',
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
    'region branches locations shifts factory',
  ),
  starter(
    'service-desk',
    'Service desk in shifts',
    'A desk around the clock, with those who find the causes',
    `vacant — Head of service desk
  vacant — Shift lead, day
    vacant — Agent, day
    vacant — Agent, day
  vacant — Shift lead, night
    vacant — Agent, night
  vacant — Problem manager
  vacant — Knowledge editor`,
    'helpdesk support callcentre hotline shift agents',
  ),
  starter(
    'project-organisation',
    'Project organisation',
    'Who steers, who leads, who builds',
    `vacant — Sponsor
  vacant — Project lead
    vacant — Project office (assistant)
    vacant — Lead, requirements
      vacant — Analyst
    vacant — Lead, build
      vacant — Engineer
      vacant — Engineer
      vacant — Tester
    vacant — Lead, bringing in
      vacant — Trainer`,
    'programme steering board sponsor pmo roles',
  ),
  starter(
    'small-firm',
    'Small firm',
    'An owner, an office, a workshop',
    `vacant — Owner
  vacant — Office
  vacant — Workshop lead
    vacant — Fitter
    vacant — Fitter
    vacant — Trainee
  vacant — Sales`,
    'company business startup workshop craft',
  ),
  starter(
    'clinic',
    'Clinic',
    'Doctors, nursing and administration under one head',
    `vacant — Director
  vacant — Medical lead
    vacant — Physician
    vacant — Physician
  vacant — Nursing lead
    vacant — Nurse, ward
    vacant — Nurse, ward
  vacant — Head of administration
    vacant — Reception
    vacant — Accounts`,
    'hospital ward health medical nurses doctors',
  ),
  starter(
    'school',
    'School',
    'A head, departments and the office',
    `vacant — Head teacher
  vacant — Deputy head
    vacant — Lead, languages
      vacant — Teacher
    vacant — Lead, sciences
      vacant — Teacher
      vacant — Teacher
  vacant — School office
  vacant — Caretaker`,
    'teachers education university faculty pupils',
  ),
]
