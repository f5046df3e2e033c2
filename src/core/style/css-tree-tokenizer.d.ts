declare module 'css-tree/tokenizer' {
  /** Token types of CSS Syntax Level 3, by name. */
  export const tokenTypes: Record<
    | 'EOF'
    | 'Ident'
    | 'Function'
    | 'AtKeyword'
    | 'Delim'
    | 'WhiteSpace'
    | 'CDO'
    | 'CDC'
    | 'Colon'
    | 'Semicolon'
    | 'LeftSquareBracket'
    | 'RightSquareBracket'
    | 'LeftParenthesis'
    | 'RightParenthesis'
    | 'LeftCurlyBracket'
    | 'RightCurlyBracket'
    | 'Comment',
    number
  >;
  /** Calls `onToken` for each token with its range, UTF-16 offsets into `source`. */
  export function tokenize(source: string, onToken: (type: number, start: number, end: number) => void): void;
}
