/** Where between two numbers a test changes its answer, by halving. `holds` is true at `yes` and false at `no`. */
export function bisect(holds: (u: number) => boolean, yes: number, no: number, halvings: number): number {
  let [a, b] = [yes, no];
  for (let i = 0; i < halvings; i++) {
    const middle = (a + b) / 2;
    if (holds(middle)) a = middle;
    else b = middle;
  }
  return (a + b) / 2;
}
