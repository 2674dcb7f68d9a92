import { expect, test } from '@playwright/test'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import ts from 'typescript'

// What the front end says comes from a file of words beside each place, so that a language is a file.

const root = join(import.meta.dirname, '../web/src')

/** Attributes that a person reads or hears. */
const saying = /^(title|aria-label|ariaLabelForHandle|placeholder|label|alt|okText|suffix|name|figure|note|none|empty)$/
const styling = /^(className|style|d|viewBox|transform|stroke|fill|to|key|id|role|type)$/

/** What looks like words and is none: names of the protocol, keys, formats of dates, fonts, values of the API. */
const noWords = [
  /^(If-Match|Idempotency-Key|Content-Type|AbortError|Escape|Enter|Esc|ArrowDown|ArrowUp)$/,
  /^[dDMYhHma:, ]+$/,
  /^\/api\/|^exceptions\[|^new 0$/, // addresses, fields, keys of drafts
  /sans-serif|rgb\(|^\(prefers-|^\.[a-z-]+[ ,]/,
  /^(in the making|handed over|no alcohol|no gelatine|low sugar)$/,
]
const names = /\b(?:Zesty Tin|PDF|CSV|API|JSON-LD)\b/g

/** Texts of a file that are not in the words. */
function texts(path: string): string[] {
  const found: string[] = []
  const sentence = (text: string) => /\p{L}{2,}[,.;:]? \p{L}|^[ ,;:·(]*\p{Lu}\p{Ll}+|\p{Ll}{2,}\.$/u.test(text)
  /** A word beside a value: "short Monday", "12 free". */
  const ofValue = (text: string) => sentence(text) || /\p{L}{2,} +0|0 +\p{L}{2,}/u.test(text)
  const word = (text: string) => /\p{L}{2,}/u.test(text)
  function look(node: ts.Node, inMarkup: boolean): void {
    if (ts.isImportDeclaration(node) || ts.isTypeNode(node) || ts.isThrowStatement(node)) return
    if (ts.isNewExpression(node) || (ts.isCallExpression(node) && node.expression.kind === ts.SyntaxKind.SuperKeyword))
      return
    if (ts.isJsxAttribute(node) && styling.test(node.name.getText())) return
    const text =
      ts.isStringLiteralLike(node) || ts.isJsxText(node)
        ? node.text
        : ts.isTemplateExpression(node)
          ? [node.head.text, ...node.templateSpans.map((s) => s.literal.text)].join('0')
          : ''
    const plain = text.replace(names, '').trim()
    const says = ts.isJsxText(node) || inMarkup ? word : ts.isTemplateExpression(node) ? ofValue : sentence
    if (says(plain) && !noWords.some((n) => n.test(plain))) found.push(plain)
    const attribute = ts.isJsxAttribute(node) && saying.test(node.name.getText())
    const child = ts.isJsxExpression(node) && !ts.isJsxAttribute(node.parent)
    // What is chosen between, and what stands behind &&, is said where it stands; what is called or compared with, not.
    const passes =
      inMarkup &&
      (ts.isJsxExpression(node) ||
        ts.isParenthesizedExpression(node) ||
        ts.isTemplateExpression(node) ||
        ts.isTemplateSpan(node))
    ts.forEachChild(node, (next) => {
      const chosen =
        inMarkup &&
        ((ts.isConditionalExpression(node) && next !== node.condition) ||
          (ts.isBinaryExpression(node) &&
            next === node.right &&
            [ts.SyntaxKind.AmpersandAmpersandToken, ts.SyntaxKind.BarBarToken, ts.SyntaxKind.PlusToken].includes(
              node.operatorToken.kind,
            )))
      look(next, attribute || child || passes || chosen)
    })
  }
  const kind = path.endsWith('x') ? ts.ScriptKind.TSX : ts.ScriptKind.TS
  look(ts.createSourceFile(path, readFileSync(path, 'utf8'), ts.ScriptTarget.Latest, true, kind), false)
  return found
}

test('what is said stands in the words of its place', () => {
  const files = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter(
    (f) => /\.tsx?$/.test(f) && !/words\.ts$|schema\.d\.ts$/.test(f),
  )
  expect(files.length).toBeGreaterThan(90)
  for (const f of files) expect.soft(texts(join(root, f)), `${f} says`).toEqual([])
})
