import { html, type TemplateResult } from 'lit';

const icon = (path: string): TemplateResult =>
  html`<svg
    viewBox="0 0 24 24"
    width="18"
    height="18"
    fill="none"
    stroke="currentColor"
    stroke-width="2"
    stroke-linecap="round"
    stroke-linejoin="round"
    aria-hidden="true"
  >
    <path d=${path}></path>
  </svg>`;

/** Two pictures of the set Lucide (ISC licence), the same that the desk uses. */
export const icons = {
  undo: icon('M9 14 4 9l5-5M4 9h10.5a5.5 5.5 0 0 1 0 11H11'),
  menu: icon('M4 5h16M4 12h16M4 19h16'),
} as const;
