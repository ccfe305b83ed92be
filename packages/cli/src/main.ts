import { Command, CommanderError, type OptionValues } from 'commander';
import { readExercise } from '@contactum/core/documents';
import type { Answer } from './answer.js';
import {
  checkCommand,
  compareCommand,
  diagnoseCommand,
  exerciseCommand,
  explainCommand,
  gradeCommand,
  measureCommand,
  proveCommand,
  repairCommand,
  runCommand,
} from './commands.js';
import { EXPORT_FORMATS, exportAnswer } from './export.js';
import { gradeAnswersCommand, isAnswers, questionsCommand } from './questions.js';
import { faultsAnswer } from './faults.js';
import { IMPORT_FORMATS, importAnswer } from './import.js';
import { Unusable, readFile } from './input.js';
import { gatewayCommand } from './gateway.js';
import { scanCommand } from './scan.js';
import { schemaAnswer } from './schema.js';
import { variantCommand } from './variant.js';
import { verifyCommand } from './verify.js';

/** One command: what it takes, what may be said besides, and what it answers. */
interface CommandSpec {
  readonly name: string;
  readonly words: string;
  /** `<NEEDED>`, `[MAY BE LEFT OUT]`. */
  readonly takes: readonly string[];
  readonly options?: readonly (readonly [flags: string, words: string])[];
  readonly answer: (files: readonly string[], values: OptionValues) => Answer | Promise<Answer>;
}

const SCRIPT = ['--script <FILE>', 'a script that is worked first'] as const;
const OUT = ['--out <FILE>', 'written to this file'] as const;

const COMMANDS: readonly CommandSpec[] = [
  {
    name: 'check',
    words: 'whether a document can be read',
    takes: ['<DOCUMENT>'],
    answer: ([file = '']) => checkCommand(file),
  },
  {
    name: 'exercise',
    words: 'a shipped exercise; the ids of all',
    takes: ['[ID]'],
    answer: ([id]) => exerciseCommand(id),
  },
  {
    name: 'run',
    words: 'a script worked on a bench',
    takes: ['<BENCH>', '<SCRIPT>'],
    answer: ([bench = '', script = '']) => runCommand(bench, script),
  },
  {
    name: 'prove',
    words: 'every safety property over every order of working',
    takes: ['<BENCH>'],
    answer: ([bench = '']) => proveCommand(bench),
  },
  {
    name: 'compare',
    words: 'whether two wirings do the same',
    takes: ['<REFERENCE>', '<CANDIDATE>'],
    options: [['--observe <A,B>', 'what is compared']],
    answer: ([reference = '', candidate = ''], values) => compareCommand(reference, candidate, values),
  },
  {
    name: 'grade',
    words: 'the mark of a wiring, or of answers',
    takes: ['<EXERCISE>', '<BENCH>'],
    answer: ([exercise = '', bench = '']) =>
      isAnswers(bench) ? gradeAnswersCommand(exercise, bench) : gradeCommand(exercise, bench),
  },
  {
    name: 'questions',
    words: 'an exercise of questions about a board, the same for the same seed',
    takes: ['<BENCH>'],
    options: [
      ['--seed <N>', 'a whole number'],
      ['--degree <D>', '1 to 5'],
      ['--count <N>', 'questions, 1 to 100'],
    ],
    answer: ([file = ''], values) => questionsCommand(file, values),
  },
  {
    name: 'variant',
    words: 'an exercise that is as hard and not the same, the same for the same seed',
    takes: ['<EXERCISE>'],
    options: [['--seed <N>', 'a whole number']],
    answer: ([file = ''], values) => variantCommand(file, values),
  },
  {
    name: 'verify',
    words: 'whether an evidence pack is as it was signed',
    takes: ['<PACK>'],
    options: [
      ['--key <FINGERPRINT>', 'the key that it must be signed with'],
      ['--mark', 'marks it again by the exercise that it carries'],
    ],
    answer: ([file = ''], values) => verifyCommand(file, values),
  },
  {
    name: 'repair',
    words: 'the fewest leads to change so that a wiring passes',
    takes: ['<EXERCISE>', '<BENCH>'],
    options: [['--most <N>', 'edits at most, 0 to 5']],
    answer: ([exercise = '', bench = ''], values) => repairCommand(exercise, bench, values),
  },
  {
    name: 'faults',
    words: 'every single fault of an exercise with what it does',
    takes: ['<EXERCISE>'],
    answer: ([file = '']) => faultsAnswer(readFile(file, readExercise)),
  },
  {
    name: 'diagnose',
    words: 'what explains some observations of a board',
    takes: ['<EXERCISE>', '[BENCH]'],
    options: [
      ['--observations <FILE>', 'what was seen and read'],
      ['--pairs', 'two faults at once as well'],
    ],
    answer: ([exercise = '', bench], values) => diagnoseCommand(exercise, bench, values),
  },
  {
    name: 'measure',
    words: 'what an instrument shows',
    takes: ['<BENCH>'],
    options: [
      ['--mode <volts|ohms|amps>', 'the instrument'],
      ['--between <TERMINAL...>', 'two terminals, of volts and ohms'],
      ['--at <TERMINAL>', 'a terminal, of amps'],
      SCRIPT,
    ],
    answer: ([bench = ''], values) => measureCommand(bench, values),
  },
  {
    name: 'explain',
    words: 'why a coil, a lamp or a motor is as it is',
    takes: ['<BENCH>'],
    options: [['--of <DEVICE>', 'a contactor, relay, timer, lamp or motor'], SCRIPT],
    answer: ([bench = ''], values) => explainCommand(bench, values),
  },
  {
    name: 'export',
    words: 'a bench, or the reference of an exercise, in another form',
    takes: ['<DOCUMENT>'],
    options: [
      [`--to <FORM>`, EXPORT_FORMATS.join(', ')],
      ['--form <iec|us>', 'of a drawing'],
      ['--paper <A4|A3|letter|tabloid>', 'of a drawing or a PDF'],
      ['--number <TEXT>', 'of the title block'],
      ['--author <TEXT>', 'of the title block'],
      ['--date <TEXT>', 'of the title block'],
      ['--owner <TEXT>', 'of the title block'],
      SCRIPT,
      OUT,
    ],
    answer: ([file = ''], values) => exportAnswer(file, values),
  },
  {
    name: 'import',
    words: 'another form of a file as a document, line by line',
    takes: ['<FILE>'],
    options: [
      ['--as <FORM>', IMPORT_FORMATS.join(', ')],
      ['--into <FILE>', 'the bench or exercise that takes it'],
      OUT,
    ],
    answer: ([file = ''], values) => importAnswer(file, values),
  },
  {
    name: 'scan',
    words: 'which terminals of a real, dead board are joined, read by its scanner',
    takes: [],
    options: [
      ['--board <FILE>', 'the bench or exercise that the board is of'],
      ['--address <HOST>', 'the scanner, HOST or HOST:PORT'],
      ['--follow <SECONDS>', 'tells which joints come and go for so long after'],
      ['--work', 'asks for each device to be worked, and tells leads from closed contacts'],
      OUT,
    ],
    answer: (_files, values) => scanCommand(values),
  },
  {
    name: 'gateway',
    words: 'a scanner connected to the server: what is wired on its board comes to life on the Bench',
    takes: [],
    options: [
      ['--address <HOST>', 'the scanner, HOST or HOST:PORT'],
      ['--server <URL>', 'the server, such as https://board.college.example'],
      ['--token-file <FILE>', 'a file with the token that the server gave for this scanner'],
      ['--for <SECONDS>', 'ends after so long; otherwise it runs until it is stopped'],
    ],
    answer: (_files, values) => gatewayCommand(values),
  },
  {
    name: 'schema',
    words: 'the JSON Schema of a kind of document; the kinds',
    takes: ['[KIND]'],
    answer: ([kind = '']) => schemaAnswer(kind),
  },
];

/** Runs the command line; returns the exit status. */
export async function main(
  argv: readonly string[],
  out: (text: string | Uint8Array) => void,
  complain: (text: string) => void,
): Promise<number> {
  let status = 0;
  const program = programOf(out, (answer, { json }) => {
    out(json ? JSON.stringify(answer.json) : (answer.bytes ?? answer.words));
    status = answer.holds ? 0 : 1;
  });
  try {
    if (argv.length === 0)
      throw new Unusable('usage: contactum <command> [--json]; contactum --help lists them');
    await program.parseAsync(argv, { from: 'user' });
    return status;
  } catch (error) {
    if (error instanceof CommanderError && error.exitCode === 0) return 0;
    const problem = error instanceof CommanderError ? new Unusable(saidOf(error)) : error;
    if (!(problem instanceof Unusable)) throw error;
    complain(problem.message);
    return 2;
  }
}

function programOf(
  out: (text: string) => void,
  tell: (answer: Answer, values: OptionValues) => void,
): Command {
  const program = new Command('contactum')
    .usage('<command> [--json]')
    .description('Wires, simulates, proves and marks motor control boards.')
    .option('--json', 'the answer as JSON')
    // What is wrong is told in one line by whoever catches it.
    .configureOutput({ writeOut: (text) => out(text.trimEnd()), writeErr: () => undefined })
    .exitOverride()
    .argument('[command]')
    .allowExcessArguments()
    .action((name: string) => {
      const known = COMMANDS.map((one) => one.name).join(', ');
      throw new Unusable(`arguments: unknown command "${name}"; known are ${known}`);
    });
  for (const { name, words, takes, options = [], answer } of COMMANDS) {
    const command = program
      .command(name)
      .description(words)
      .usage([...takes, '[options]'].join(' '));
    command.exitOverride().allowExcessArguments();
    // What is missing is said in words of our own.
    for (const one of takes) command.argument(one.replace('<', '[').replace('>', ']'));
    for (const [flags, said] of options) command.option(flags, said);
    command.action(async () => {
      const files = command.args;
      const least = takes.filter((one) => one.startsWith('<')).length;
      if (files.length < least || files.length > takes.length)
        throw new Unusable(
          `arguments: ${name} takes ${takes.map((one) => one.replace(/[<>]/g, '')).join(' ')}`,
        );
      const values = command.optsWithGlobals();
      tell(await answer(files, values), values);
    });
  }
  return program;
}

/** What is wrong with the words of a command line, in one line. */
const saidOf = ({ message }: CommanderError): string =>
  message.replace(/^error: /, 'arguments: ').replace(/\n[^]*$/, '');
