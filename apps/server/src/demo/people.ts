import type { Role } from '@ypsigraph/contract/vocabulary';

export interface DemoPersonSeed {
  readonly name: string;
  readonly email: string;
  readonly role: Role;
  readonly cohorts: readonly string[];
  /** What is going on with them, for the page that offers them. */
  readonly line: string;
}

export const COHORTS = ['Monday loft', 'Thursday loft'] as const;
const [MONDAY, THURSDAY] = COHORTS;

const person = (name: string, role: Role, cohorts: readonly string[], line: string): DemoPersonSeed => ({
  name,
  role,
  cohorts,
  line,
  email: `${name
    .normalize('NFD')
    .replace(/[^A-Za-z ]/g, '')
    .trim()
    .toLowerCase()
    .replace(/ +/g, '.')}@saltwick.example`,
});

const student = (name: string, cohort: string, line: string) => person(name, 'student', [cohort], line);

/** Everybody at Saltwick Night School. All of them invented. */
export const PEOPLE: readonly DemoPersonSeed[] = [
  person('Ottoline Farrow', 'instructor', COHORTS, 'teaches Bodies in Motion to both lofts'),
  person('Baraka Lundqvist', 'assistant', COHORTS, 'marks beside her, on Thursdays above all'),
  student('Amara Oyelaran', MONDAY, 'fixed the slide, and broke the knees'),
  student('Bram Hoekstra', MONDAY, 'was told “less bob” and over-corrects'),
  student('Chiyo Tanabe', MONDAY, 'signed off at the first try'),
  student('Dagny Solheim', MONDAY, 'blocked late, polishes fast'),
  student('Emeka Brightwater', MONDAY, 'has marks to answer'),
  student('Farid Qasemi', MONDAY, 'one frame of his hand is out of place'),
  student('Greta Almqvist', MONDAY, 'answered, and has the next revision to make'),
  student('Hoku Kealoha', MONDAY, 'waits for a review'),
  student('Inês Carvalhal', MONDAY, 'on her third revision'),
  student('Jomo Wanyama', MONDAY, 'has handed nothing in yet'),
  student('Kiri Tamatea', MONDAY, 'took hers back to change one thing'),
  student('Liesl Achterberg', MONDAY, 'is on the desk just now'),
  student('Mateo Villarreal', THURSDAY, 'his loop jumps'),
  student('Nilufar Rashidova', THURSDAY, 'signed off after two'),
  student('Oisín Brannagh', THURSDAY, 'sinks through the quay'),
  student('Priya Ramanathan', THURSDAY, 'signed off with one mark waived'),
  student('Quirin Abendroth', THURSDAY, 'has handed nothing in yet'),
  student('Rosalind Achebe-Moor', THURSDAY, 'has marks to answer'),
  student('Sunniva Dahlby', THURSDAY, 'waits for a review'),
  student('Tomasz Wieczor', THURSDAY, 'has handed nothing in yet'),
  student('Ulugbek Saidov', THURSDAY, 'repeated a frame in the loop'),
];

const LINES = new Map(PEOPLE.map(({ email, line }) => [email, line]));

export const personLine = (email: string): string => LINES.get(email) ?? '';
