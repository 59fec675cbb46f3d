import type { DetailedHTMLProps, HTMLAttributes } from 'react';
import type { DrawerPanel } from '../dist/browser/index.js';
import type { PanelProps } from './panel.js';

declare module 'react' {
  namespace JSX {
    interface IntrinsicElements {
      'drawer-panel': DetailedHTMLProps<HTMLAttributes<DrawerPanel>, DrawerPanel> & PanelProps;
    }
  }
}
