// A lint rule of ours: a control in a template carries Angular Material's directive, which brings its keyboard, its labels
// for screen readers and the theme's tokens along (docs/architecture.md, the web application).

/** By element: the attributes of which it has to have one. */
const DIRECTIVES = {
  button: ['matButton', 'mat-menu-item', 'matIconButton', 'matChipRemove'],
  input: ['matInput', 'hidden'],
  textarea: ['matInput'],
  select: ['matNativeControl'],
  table: ['mat-table'],
};

/** @type {import('eslint').Rule.RuleModule} */
const rule = {
  meta: {
    type: 'problem',
    docs: { description: 'Controls are Angular Material’s.' },
    schema: [],
    messages: { bare: 'A bare <{{name}}>: give it {{wanted}}.' },
  },
  create: (context) => ({
    Element(node) {
      const wanted = DIRECTIVES[node.name];
      if (!wanted) return;
      const has = [...node.attributes, ...node.inputs].map((a) => a.name);
      if (wanted.some((w) => has.includes(w))) return;
      const { start, end } = node.startSourceSpan;
      context.report({
        loc: {
          start: { line: start.line + 1, column: start.col },
          end: { line: end.line + 1, column: end.col },
        },
        messageId: 'bare',
        data: { name: node.name, wanted: wanted.join(' or ') },
      });
    },
  }),
};
export default { rules: { 'material-controls': rule } };
