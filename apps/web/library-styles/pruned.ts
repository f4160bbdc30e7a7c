import { parse, type Rule } from 'postcss';

/** What is never drawn here: right to left, buttons in colours other than our own, columns by numbers, and looks of inputs without a full border. */
export const NEVER_DRAWN: readonly RegExp[] = [
  /-rtl\b/,
  /\.ant-btn-color-(?!default\b|primary\b|dangerous\b|link\b)/,
  /\.ant-col-(\d|push|pull|offset|order|xs|sm|md|lg|xl|xxl|xxxl)/,
  /-(filled|underlined|borderless)\b/,
];

const rulesOf = (css: string): { readonly rules: readonly Rule[]; readonly whole: () => string } => {
  const root = parse(css);
  const rules: Rule[] = [];
  root.walkRules((rule) => void rules.push(rule));
  return { rules, whole: () => root.toString() };
};

/** A sheet without the rules for what is never drawn. */
export function pruned(css: string): string {
  const { rules, whole } = rulesOf(css);
  for (const rule of rules) {
    const drawn = rule.selectors.filter((selector) => !NEVER_DRAWN.some((never) => never.test(selector)));
    if (drawn.length === 0) rule.remove();
    else if (drawn.length < rule.selectors.length) rule.selectors = drawn;
  }
  return whole();
}

/** One sheet of values for several themes, each given under its own class: what they have in common is said once. */
export function valuesUnder(sheets: readonly string[], isRead: (value: string) => boolean = () => true): string {
  const [first = [], ...others] = sheets.map((sheet) => rulesOf(sheet).rules.map(valuesOf));
  return first
    .flatMap((shared, at) => {
      const own = others.map((rules) => rules[at]);
      const differ = own.map((rule) => {
        if (rule === undefined || [...rule.values.keys()].join() !== [...shared.values.keys()].join())
          throw new Error(`${shared.selector} has other values under another theme.`);
        return ruleOf(
          rule.selector,
          [...rule.values].filter(([name, value]) => isRead(name) && shared.values.get(name) !== value),
        );
      });
      const all = [shared, ...own].map((rule) => rule!.selector).join(',');
      return [
        ruleOf(
          all,
          [...shared.values].filter(([name]) => isRead(name)),
        ),
        ...differ,
      ];
    })
    .join('');
}

interface Values {
  readonly selector: string;
  readonly values: ReadonlyMap<string, string>;
}
function valuesOf(rule: Rule): Values {
  const values = new Map<string, string>();
  rule.walkDecls(({ prop, value }) => void values.set(prop, value));
  return { selector: rule.selector, values };
}
const ruleOf = (selector: string, values: readonly (readonly [string, string])[]): string =>
  values.length === 0 ? '' : `${selector}{${values.map(([name, value]) => `${name}:${value}`).join(';')}}`;
