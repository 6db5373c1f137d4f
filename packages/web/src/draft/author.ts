/** Who works at this browser; it is asked for at the first post and remembered here. */
export interface Author {
  readonly name: string;
  readonly email: string;
}

export function knownAuthor(): Author {
  return {
    name: localStorage.getItem('author-name') ?? '',
    email: localStorage.getItem('author-email') ?? '',
  };
}

export function rememberAuthor({ name, email }: Author): void {
  localStorage.setItem('author-name', name);
  localStorage.setItem('author-email', email);
}
