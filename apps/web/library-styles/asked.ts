/** How a style is asked for: as a hook that also says the theme's class, as one that does not, or as a component that draws nothing. */
export type Kind = 'hook' | 'plain' | 'part';
/** The classes a style is made for, without `ant-`, as the library's component passes them; rules or its values alone. None: it is not used here. */
export type Asked = readonly (readonly [prefix: string, root?: string, rules?: boolean])[];

/** Every style module that the page has, by what it gives. Of two rules as strong the later holds: what draws others stands before them. */
export const ASKED: Readonly<Record<string, Readonly<Record<string, readonly [Kind, Asked]>>>> = {
  'alert/style': { default: ['hook', [['alert']]] },
  'form/style': { default: ['hook', [['form', 'form-css-var']]] },
  'grid/style': { useRowStyle: ['hook', [['row']]], useColStyle: ['hook', [['col']]] },
  'notification/style': {
    default: ['hook', [['notification', 'notification-css-var']]],
    PurePanelStyle: ['part', []],
  },
  'modal/style': { default: ['hook', [['modal', 'modal-css-var']]] },
  'modal/style/confirm': { default: ['part', []] },
  'drawer/style': { default: ['hook', [['drawer']]] },
  'popconfirm/style': { default: ['hook', [['popconfirm']]] },
  'popover/style': { default: ['hook', [['popover']]] },
  'tooltip/style': {
    default: [
      'hook',
      [
        ['tooltip', 'tooltip-css-var'],
        ['popover', 'popover-css-var', false],
      ],
    ],
  },
  'skeleton/style': { default: ['hook', []] },
  'image/style': { default: ['hook', [['image', 'image-css-var']]] },
  'typography/style': { default: ['hook', [['typography']]] },
  'progress/style': { default: ['hook', [['progress']]] },
  'slider/style': { default: ['hook', [['slider']]] },
  'segmented/style': { default: ['hook', [['segmented']]] },
  'switch/style': { default: ['hook', [['switch']]] },
  'checkbox/style': { default: ['hook', [['checkbox', 'checkbox-css-var']]] },
  'radio/style': { default: ['hook', [['radio', 'radio-css-var']]] },
  'select/style': { default: ['hook', [['select', 'select-css-var']]] },
  'empty/style': { default: ['hook', [['empty']]] },
  'input-number/style': { default: ['hook', [['input-number', 'input-number-css-var']]] },
  'input/style/search': { default: ['hook', [['input-search']]] },
  'input/style/otp': { default: ['hook', []] },
  'input/style': { useSharedStyle: ['hook', [['input']]], default: ['hook', [['input', 'input-css-var']]] },
  'input/style/textarea': { default: ['hook', [['input', 'input-css-var']]] },
  'space/style/addon': { default: ['hook', [['space-addon']]] },
  'space/style/compact': { default: ['hook', [['space-compact']]] },
  'space/style': { default: ['hook', []] },
  'spin/style': { default: ['hook', [['spin']]] },
  'button/style': { default: ['hook', [['btn']]] },
  '_util/wave/style': { default: ['plain', [['wave']]] },
  // The library puts these behind all others.
  'form/style/fallbackCmp': { default: ['part', [['form']]] },
  'button/style/compact': { default: ['part', [['btn']]] },
};
