/** Whose the commit of a standing order is. `.invalid` never belongs to anyone (RFC 2606). */
export function orderAuthor(name: string): { readonly name: string; readonly email: string } {
  return { name: `standing order ${name}`, email: 'standing-order@orders.invalid' };
}
