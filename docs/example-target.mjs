/**
 * A target of one's own: a catalogue of the components, a table of props each, with the pages that use them.
 * Run it with: estrade emit ./example-target.mjs
 */
export default function catalogue(site, options) {
  const sections = site.components.map(({ name, about, props, slots }) => {
    const pages = site.pages.filter((page) => page.uses.includes(name)).map(({ path }) => path);
    const rows = props.map(
      ({ name: prop, type, choices, optional, default: standard }) =>
        `| ${prop} | ${choices.length > 0 ? choices.join(' or ') : type} | ${standard ?? (optional ? 'none' : 'required')} |`,
    );
    const table = rows.length === 0 ? [] : ['', '| prop | type | default |', '|---|---|---|', ...rows];
    const poured = slots.map((slot) => (slot === '' ? 'its content' : slot));
    return [
      `## ${name}`,
      ...(about === null ? [] : ['', about]),
      ...table,
      ...(poured.length === 0 ? [] : ['', `Poured in: ${poured.join(', ')}.`]),
      '',
      pages.length === 0 ? 'No page has it in its body.' : `On ${pages.join(', ')}.`,
    ].join('\n');
  });
  const title = options.title ?? 'Components';
  return {
    files: [{ path: 'catalogue.md', text: `# ${title}\n\n${sections.join('\n\n')}\n` }],
    remarks: [{ kind: 'decided', message: `${site.components.length} components in catalogue.md` }],
  };
}
