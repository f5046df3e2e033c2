/** `completion`: the script that makes a shell complete command lines, and the answers that it asks for. */
import { Argument, type Command } from 'commander';
import { surveyProject } from '../operations/survey.js';
import { findPages } from '../workspace/find.js';
import { openProject } from '../workspace/project.js';
import { candidatesFor, type ProjectNames } from './candidates.js';
import { print } from './printing.js';

const SHELLS = ['bash', 'zsh', 'fish'] as const;

type Shell = (typeof SHELLS)[number];

/** Scripts that ask `estrade completion <shell> -- <words>` for what could stand instead of the last word. */
const SCRIPTS: Record<Shell, string> = {
  bash: `# To load it: source <(estrade completion bash), or save it as estrade in a folder of bash-completion.
_estrade() {
  local line first=yes
  COMPREPLY=()
  while IFS= read -r line; do
    if [[ $first == yes && $line == :files ]]; then compopt -o default; return; fi
    if [[ $first == yes && $line == :folders ]]; then compopt -o dirnames; return; fi
    first=no
    COMPREPLY+=("\${line%%$'\\t'*}")
  done < <("\${COMP_WORDS[0]}" completion bash -- "\${COMP_WORDS[@]:1:COMP_CWORD}" 2>/dev/null)
}
complete -F _estrade estrade
`,
  zsh: `#compdef estrade
# To load it: source <(estrade completion zsh) after compinit, or save it as _estrade in a folder of $fpath.
_estrade() {
  local line
  local -a lines items
  lines=("\${(@f)$("$words[1]" completion zsh -- "\${(@)words[2,CURRENT]}" 2>/dev/null)}")
  case $lines[1] in
    :files) _files; return ;;
    :folders) _files -/; return ;;
  esac
  for line in \${lines:#}; do items+=("\${\${line%%$'\\t'*}//:/\\\\:}:\${line#*$'\\t'}"); done
  _describe estrade items
}
if [[ $funcstack[1] == _estrade ]]; then _estrade "$@"; else compdef _estrade estrade; fi
`,
  fish: `# To load it: estrade completion fish | source, or save it as ~/.config/fish/completions/estrade.fish.
function __estrade_complete
    set -l words (commandline -opc)
    set -l lines ($words[1] completion fish -- $words[2..] (commandline -ct) 2>/dev/null)
    switch "$lines[1]"
        case :files
            __fish_complete_path (commandline -ct)
        case :folders
            __fish_complete_directories (commandline -ct) ''
        case '*'
            string join \\n -- $lines
    end
end
complete -c estrade -f -a '(__estrade_complete)'
`,
};

/** The names of the project that `cwd` stands in; none where it cannot be read. */
function namesIn(cwd: string): ProjectNames {
  const orNone =
    <T>(read: () => Promise<T[]>) =>
    async () =>
      read().catch((): T[] => []);
  return {
    findings: orNone(async () => (await surveyProject(cwd, [], {})).findings),
    components: orNone(async () =>
      [...(await openProject(cwd)).registry.values()].map(({ name, path, props }) => ({
        ...{ name, path },
        props: props.map((prop) => prop.name),
      })),
    ),
    pages: orNone(async () => {
      const project = await openProject(cwd);
      return (await findPages(project, project.root, [])).paths;
    }),
  };
}

/**
 * @param allCommands defines every command on a program of its own
 */
export function define(program: Command, allCommands: () => Promise<Command>): void {
  program
    .command('completion')
    .addArgument(new Argument('<shell>', 'which shell').choices(SHELLS))
    .argument('[words...]', 'instead of the script: what completes the last of these words (docs/editors.md)')
    .description('print the script that makes a shell complete commands, options and names')
    .addHelpText('after', '\nExample:\n  source <(estrade completion bash)')
    .action(async (shell: Shell, words: string[]) => {
      if (words.length === 0) {
        process.stdout.write(SCRIPTS[shell]);
        return;
      }
      const found = await candidatesFor(await allCommands(), words, namesIn(process.cwd()));
      if (typeof found === 'string') print(`:${found}`);
      else for (const { value, about } of found) print(about === '' ? value : `${value}\t${about}`);
    });
}
