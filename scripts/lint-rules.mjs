// Promises of this house that no rule of the linter's own knows.

/** A rule that reports each node its visitor names. */
const rule = (message, visitor) => ({
  meta: { type: 'problem', schema: [] },
  create: (context) => visitor((node) => context.report({ node, message }), context),
});

const CUTS = new Set(['slice', 'substring', 'substr']);

const cutText = rule('Cut text with cutText: a slice can leave half a character.', (report) => ({
  CallExpression(node) {
    const [from, to] = node.arguments;
    if (
      node.callee.type === 'MemberExpression' &&
      CUTS.has(node.callee.property.name) &&
      from?.value === 0 &&
      to?.value >= 30
    )
      report(node);
  },
}));

const titleOfOneChild = rule(
  'A title has one child, a template literal: React draws none of several on the server.',
  (report) => ({
    JSXElement(node) {
      if (node.openingElement.name.name === 'title' && node.children.length > 1) report(node);
    },
  }),
);

const isDoc = ({ type, value }) => type === 'Block' && value.startsWith('*');

const oneDoc = rule(
  'Nothing stands between these two: one of them strayed from what it describes.',
  (report, { sourceCode }) => ({
    Program() {
      const docs = sourceCode.getAllComments().filter(isDoc);
      for (const [i, doc] of docs.entries())
        if (i > 0 && docs[i - 1].loc.end.line === doc.loc.start.line - 1) report(doc);
    },
  }),
);

export default {
  meta: { name: 'wren' },
  rules: { 'cut-text': cutText, 'one-doc': oneDoc, 'title-of-one-child': titleOfOneChild },
};
