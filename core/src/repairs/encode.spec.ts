import { innerText, nameText, needsQuotes, wholeText, type Writing } from './encode.js';

describe('a text', () => {
  const whole: [Writing, string, string][] = [
    ['json', 'nine "9"', '"nine \\"9\\""'],
    ['toml', 'nine', '"nine"'],
    ['typescript', 'nine', '"nine"'],
    ['yaml', 'nine lives', 'nine lives'],
    ['yaml', 'a: b', '"a: b"'],
    ['yaml', 'nine ', '"nine "'],
    ['yaml', '', '""'],
    ['ini', 'nine "9"', 'nine "9"'],
    ['csv', 'nine', 'nine'],
    ['csv', 'nine, "ten"', '"nine, ""ten"""'],
    ['csv', 'two\nlines', '"two\nlines"'],
    ['xml', 'a & b < "c"\n', 'a &amp; b &lt; &quot;c&quot;&#10;'],
  ];
  for (const [writing, text, written] of whole)
    it(`as a whole value of ${writing}: ${JSON.stringify(text)}`, () => expect(wholeText(text, writing)).toBe(written));

  const names: [Writing, string, string][] = [
    ['json', 'gate', '"gate"'],
    ['yaml', 'gate', 'gate'],
    ['yaml', 'no', '"no"'],
    ['toml', 'gate-9', 'gate-9'],
    ['toml', 'gate 9', '"gate 9"'],
    ['toml', ' gate', '" gate"'],
    ['ini', 'gate 9', 'gate 9'],
    ['xml', 'gate', 'gate'],
  ];
  for (const [writing, text, written] of names)
    it(`as a name in ${writing}: ${JSON.stringify(text)}`, () => expect(nameText(text, writing)).toBe(written));

  const inner: [Writing, string, string, string][] = [
    ['xml', '"', 'a & b', 'a &amp; b'],
    ['csv', '"', 'a "b"', 'a ""b""'],
    ['csv', '', 'a b', 'a b'],
    ['yaml', "'", "o'clock", "o''clock"],
    ['yaml', '"', 'say "9"', 'say \\"9\\"'],
    ['yaml', '', 'say "9"', 'say "9"'],
    ['ini', '', 'say "9"', 'say "9"'],
    ['toml', "'", 'say "9"', 'say "9"'],
    ['toml', '"', 'say "9"', 'say \\"9\\"'],
    ['json', '"', 'back\\slash', 'back\\\\slash'],
    ['typescript', "'", "o'ne", "o\\'ne"],
    ['typescript', '"', "o'ne", "o'ne"],
    ['typescript', "'", 'say "9"', 'say "9"'],
    ['typescript', '`', 'a`b', 'a\\`b'],
    ['lua', '"', 'back\\slash', 'back\\\\slash'],
    ['python', '"', 'two\nlines\r', 'two\\nlines\\r'],
    ['plain', '"', 'say "9"', 'say \\"9\\"'],
    ['plain', '', 'two\nlines', 'two\\nlines'],
  ];
  for (const [writing, quote, text, written] of inner)
    it(`inside ${quote || 'no'} marks of ${writing}: ${JSON.stringify(text)}`, () =>
      expect(innerText(text, writing, quote)).toBe(written));

  it('needs marks of its own in YAML when it would be read as something else', () => {
    const yes = ['no', 'True', '~', '.4', '.inf', '12', '- x', 'a #b', 'x: y', ' x', 'x '];
    const no = ['nine', 'nine lives', 'scripts/gate.ts', '.hidden', 'Übung', 'not', 'a-b_c'];
    expect(yes.filter((text) => !needsQuotes(text))).toEqual([]);
    expect(no.filter(needsQuotes)).toEqual([]);
  });
});
