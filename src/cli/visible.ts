/** Control characters but tab and line end: C0, delete and C1 (ISO/IEC 6429), with which text steers a terminal. */
const controls = /[\u0000-\u0008\u000b-\u001f\u007f-\u009f]/g;
/** Characters that turn the direction of what follows them, so that names can look like others (Unicode, UAX #9, 2.1 to 2.4). */
const turning = /[\u202a-\u202e\u2066-\u2069]/g;

/** A line of a picture as `drawPicture` makes it: half blocks in colours, and nothing else. */
const drawnLine = /^ *(?:(?:\u001b\[38;2;\d+;\d+;\d+;(?:49|48;2;\d+;\d+;\d+)m)?▀)+\u001b\[0m$/;

/**
 * Text as a terminal may be handed it: whatever would steer it stands there as an escape such as `\u001b`, which JSON reads as
 * the same character.
 * @param isForPeople - whether characters that turn its direction are shown so too; documents may need them
 */
export function visible(text: string, isForPeople: boolean): string {
  const plain = text.split('\n').map(plainLine).join('\n');
  return isForPeople ? plain.replace(turning, escaped) : plain;
}

const plainLine = (line: string): string => (drawnLine.test(line) ? line : line.replace(controls, escaped));

const escaped = (sign: string): string => `\\u${(sign.codePointAt(0) ?? 0).toString(16).padStart(4, '0')}`;
