// Fulgen's inks, sizes and type. Components use these names, never colours or sizes of their own.

import { createSystem, defaultConfig, defineConfig } from '@chakra-ui/react'

const config = defineConfig({
  globalCss: {
    'html, body, #root': { height: '100%', '@media print': { height: 'auto', overflow: 'visible' } },
    body: { bg: 'paper', color: 'ink', fontSize: 'md', overflow: 'hidden' },
    '.not-printed': { '@media print': { display: 'none' } },
    '.ticket-ground': { '@media print': { height: 'auto', overflow: 'visible', bg: 'card' } },
    '.ticket': { '@media print': { margin: '0', padding: '0' } },
    // What is typed runs as its letters do, line by line.
    'input, textarea': { unicodeBidi: 'plaintext', textAlign: 'start' },
    ':focus-visible': { outline: '2px solid {colors.knife}', outlineOffset: '2px' },
    // Who asks for less motion gets none (WCAG 2.2, 2.3.3). Not "none": what closes waits for its end.
    '*, *::before, *::after': {
      '@media (prefers-reduced-motion: reduce)': {
        animationDuration: '1ms !important',
        animationDelay: '0s !important',
        transitionDuration: '1ms !important',
        transitionDelay: '0s !important',
        scrollBehavior: 'auto !important',
      },
    },
    // Under a finger nothing is smaller than it can hit.
    'button, select, [role=option], a[href], input:not([type=radio], [type=checkbox])': {
      '@media (pointer: coarse)': {
        minHeight: '{sizes.finger} !important',
        minWidth: '{sizes.finger} !important',
      },
    },
    'label:has(input)': { '@media (pointer: coarse)': { minHeight: '{sizes.finger}' } },
  },
  theme: {
    tokens: {
      fonts: {
        body: { value: "'Hanken Grotesk Variable', 'Other Alphabets', sans-serif" },
        heading: { value: "'Hanken Grotesk Variable', 'Other Alphabets', sans-serif" },
      },
      fontSizes: {
        xs: { value: '12px' },
        sm: { value: '13px' },
        md: { value: '14px' },
        lg: { value: '16px' },
        xl: { value: '20px' },
      },
      colors: {
        paper: { value: '#F5F1E8' },
        card: { value: '#FFFDF8' },
        rule: { value: '#E4DCCB' },
        edge: { value: '#8F8778' },
        ink: { value: '#23201C' },
        inkRaised: { value: '#3A352F' },
        softInk: { value: '#6B6358' },
        railInk: { value: '#CFC7B8' },
        knife: { value: '#D33F27' },
        knifeDeep: { value: '#B5301B' },
        knifeTint: { value: '#FBE9E2' },
        hold: { value: '#2F6B4F' },
        thin: { value: '#8A550B' },
        thinTint: { value: '#F8ECD6' },
        engraved: { value: '#5B3A22' },
        scored: { value: '#2F6B4F' },
        guide: { value: '#8A5FA3' },
        piece1: { value: '#3E6F92' },
        piece2: { value: '#B5793B' },
        piece3: { value: '#4F8268' },
        piece4: { value: '#94597F' },
        piece5: { value: '#8A8338' },
        piece6: { value: '#6A6FA8' },
      },
      sizes: {
        bar: { value: '56px' },
        rail: { value: '76px' },
        panel: { value: '316px' },
        panelWide: { value: '400px' },
        fold: { value: '32px' },
        finger: { value: '32px' },
        picker: { value: '460px' },
        ruler: { value: '24px' },
        readout: { value: '52px' },
        help: { value: '58px' },
        partsList: { value: '312px' },
        strip: { value: '150px' },
        rowCard: { value: '206px' },
        seamCard: { value: '96px' },
        seamCardWidest: { value: '128px' },
      },
    },
    semanticTokens: {
      colors: {
        bg: {
          DEFAULT: { value: '{colors.card}' },
          subtle: { value: '{colors.paper}' },
          muted: { value: '{colors.rule}' },
        },
        fg: { DEFAULT: { value: '{colors.ink}' }, muted: { value: '{colors.softInk}' } },
        border: { DEFAULT: { value: '{colors.rule}' } },
        // Rings around what has the focus: 4.6 to 1 on card and paper, 3.6 to 1 on ink (WCAG 2.2, 1.4.11).
        gray: { focusRing: { value: '{colors.knife}' } },
      },
    },
  },
})

export const system = createSystem(defaultConfig, config)

/** Tints of the Pieces look, in turn. */
export const PIECE_TINTS = [1, 2, 3, 4, 5, 6].map((n) => `var(--chakra-colors-piece${n})`)
export const KNIFE_INK = 'var(--chakra-colors-knife)'

/** The ink of what is not cut, by its use. */
export const USE_INKS = {
  engrave: 'var(--chakra-colors-engraved)',
  draw: 'var(--chakra-colors-ink)',
  score: 'var(--chakra-colors-scored)',
  guide: 'var(--chakra-colors-guide)',
} as const
