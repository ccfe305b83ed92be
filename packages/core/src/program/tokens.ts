/** What in a text cannot be read, and where. */
export class TextProblem extends Error {
  constructor(
    readonly line: number,
    message: string,
  ) {
    super(message);
  }
}

export interface Token {
  readonly kind: 'word' | 'comment' | 'sign' | 'end';
  readonly text: string;
  /** Words have no case. */
  readonly upper: string;
  readonly line: number;
}

const TOKEN = new RegExp(
  [
    String.raw`\s+`,
    // Comments between brackets, and to the end of the line.
    String.raw`\(\*([\s\S]*?)\*\)`,
    String.raw`\/\/([^\n]*)`,
    // Words, numbers, durations and addresses.
    String.raw`(%?[A-Za-z_0-9][\w.]*#?[\w.]*(?=\b)|%[IQ]X?\d+\.\d+)`,
    String.raw`(:=|=>|<=|>=|<>|\*\*|[-+*/=<>;:,.()&])`,
  ].join('|'),
  'y',
);

/** The words, signs and comments of structured text, one after another. */
export class Tokens {
  private readonly list: Token[] = [];
  private place = 0;

  constructor(text: string) {
    let [at, line] = [0, 1];
    while (at < text.length) {
      TOKEN.lastIndex = at;
      const match = TOKEN.exec(text);
      if (!match) throw new TextProblem(line, `"${text[at]!}" has no meaning here`);
      const [whole, block, rest, word, sign] = match;
      const said = block ?? rest;
      if (said !== undefined) this.put('comment', said.trim(), line);
      // A word with a dot is a block and its output, but for numbers, times and addresses.
      else if (word !== undefined) this.putWord(word, line);
      else if (sign !== undefined) this.put('sign', sign, line);
      line += whole.split('\n').length - 1;
      at += whole.length;
    }
    this.put('end', 'the end of the text', line);
  }

  private put(kind: Token['kind'], text: string, line: number): void {
    this.list.push({ kind, text, upper: text.toUpperCase(), line });
  }

  private putWord(word: string, line: number): void {
    if (/^[A-Za-z_]\w*\.\w+$/.test(word)) {
      const [first = '', second = ''] = word.split('.');
      this.put('word', first, line);
      this.put('sign', '.', line);
      this.put('word', second, line);
    } else this.put('word', word, line);
  }

  get isEnd(): boolean {
    return this.peek().kind === 'end';
  }

  /** The token that comes next; comments are asked for by themselves. */
  peek(): Token {
    return this.list[this.place]!;
  }

  /** The next word or sign; comments before it are passed over. */
  next(): Token {
    this.pass();
    const token = this.peek();
    if (token.kind !== 'end') this.place += 1;
    return token;
  }

  /** The comment that comes next, or null. */
  comment(): string | null {
    if (this.peek().kind !== 'comment') return null;
    this.place += 1;
    return this.list[this.place - 1]!.text;
  }

  at(word: string): boolean {
    return this.peek().kind !== 'comment' && this.peek().upper === word;
  }

  /** True where a word comes next, with nothing but comments before it. */
  ahead(word: string): boolean {
    const next = this.list.slice(this.place).find(({ kind }) => kind !== 'comment');
    return next?.upper === word;
  }

  private pass(): void {
    while (this.peek().kind === 'comment') this.place += 1;
  }

  takes(word: string): boolean {
    if (!this.ahead(word)) return false;
    this.pass();
    this.place += 1;
    return true;
  }

  needs(word: string): void {
    if (this.takes(word)) return;
    const token = this.next();
    throw new TextProblem(token.line, `${word} is expected, not ${token.text}`);
  }

  /** A name, which is no sign. */
  name(): Token {
    const token = this.next();
    if (token.kind !== 'word' || !/^[A-Za-z_]/.test(token.text))
      throw new TextProblem(token.line, `a name is expected, not ${token.text}`);
    return token;
  }
}
