/** What can be written at a place of a plan, and what stands there means: from the plan's schema. */
import {
  getLanguageService,
  InsertTextFormat,
  MarkupKind,
  TextDocument,
  type CompletionItem,
  type JSONSchema,
  type LanguageService,
  type MarkupContent,
} from 'vscode-json-languageservice';
import schema from '../../../../docs/schemas/glue-trace.schema.json';

/** Its own type is that of its text. */
const PLAN_SCHEMA: unknown = schema;

/** Something that can be written. */
export interface Offer {
  label: string;
  /** What it means; empty where the schema says nothing. */
  means: string;
  /** What is written, with places to fill in as `${1}` and `${1:word}`. */
  text: string;
  isKey: boolean;
}

export interface Offers {
  /** What is replaced: offsets, 0-based UTF-16 units, the end exclusive. */
  from: number;
  to: number;
  offers: Offer[];
}

const ADDRESS = 'plan:///glue-trace.json';

let service: LanguageService | undefined;

function ready(): LanguageService {
  if (!service) {
    service = getLanguageService({
      clientCapabilities: {
        textDocument: { completion: { completionItem: { documentationFormat: [MarkupKind.PlainText] } } },
      },
    });
    service.configure({
      allowComments: true,
      schemas: [{ uri: 'plan:///schema', fileMatch: ['*'], schema: PLAN_SCHEMA as JSONSchema }],
    });
  }
  return service;
}

/** What can be written at an offset. */
export async function offersAt(plan: string, offset: number): Promise<Offers> {
  const document = TextDocument.create(ADDRESS, 'jsonc', 1, plan);
  const found = await ready().doComplete(document, document.positionAt(offset), ready().parseJSONDocument(document));
  const items = found?.items ?? [];
  const [first] = items;
  const range = first?.textEdit && 'range' in first.textEdit ? first.textEdit.range : undefined;
  return {
    from: range ? document.offsetAt(range.start) : offset,
    to: range ? document.offsetAt(range.end) : offset,
    offers: items.map(offerOf),
  };
}

const PROPERTY = 10;

function offerOf({ label, textEdit, insertText, insertTextFormat, documentation, kind }: CompletionItem): Offer {
  const written = textEdit?.newText ?? insertText ?? label;
  // A bare `$1` is a place to fill in, too.
  const text = insertTextFormat === InsertTextFormat.Snippet ? written.replace(/\$(\d+)/g, '${$1}') : written;
  return { label, means: textOf(documentation), text, isKey: kind === PROPERTY };
}

/** What the key or value at an offset means; empty where nothing is known. */
export async function meaningAt(plan: string, offset: number): Promise<string> {
  const document = TextDocument.create(ADDRESS, 'jsonc', 1, plan);
  const hover = await ready().doHover(document, document.positionAt(offset), ready().parseJSONDocument(document));
  const contents = hover?.contents;
  return (Array.isArray(contents) ? contents : [contents ?? ''])
    .map((one) => textOf(one))
    .join(' ')
    .trim();
}

function textOf(content: string | MarkupContent | { value: string } | undefined): string {
  const text = typeof content === 'string' ? content : (content?.value ?? '');
  // Signs are kept from being taken for marks of a markup that is not shown here.
  return text.replace(/\\([\\`*_{}[\]()#+\-.!~<>$])/g, '$1').replace(/&nbsp;/g, ' ');
}
