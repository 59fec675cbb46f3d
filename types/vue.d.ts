import type { DefineComponent } from 'vue';
import type { PanelProps } from './panel.js';

declare module 'vue' {
  interface GlobalComponents {
    'drawer-panel': DefineComponent<PanelProps>;
  }
}
