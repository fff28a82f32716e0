import type { TemplateText, TemplatesDocument } from './document';
import shipped from './shipped.json';

/** Templates to begin with, in our own words. */
export const SHIPPED_TEMPLATES: readonly TemplateText[] = (shipped as TemplatesDocument).templates;
