/** Texts as they may stand in XML 1.0. */

/** Signs that no XML 1.0 document may hold, escaped or not. */

const FORBIDDEN =
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;
const NAMED: Record<string, string> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  '\t': '&#9;',
  '\n': '&#10;',
  '\r': '&#13;',
};

/** A text as content, with its line ends; what may not stand there becomes `\ufffd`. */
export function xmlText(text: string): string {
  return text.replace(FORBIDDEN, '\ufffd').replace(/[&<>"\r]/g, (sign) => NAMED[sign] ?? sign);
}

/** A text between double quotes, in which line ends and tabs would be read as spaces. */
export function xmlAttribute(text: string): string {
  return xmlText(text).replace(/[\t\n]/g, (sign) => NAMED[sign] ?? sign);
}
