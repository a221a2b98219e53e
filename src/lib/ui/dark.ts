/** Dark, for pages that are used while the house is. @returns a function that ends it */
export function beDark(): () => void {
	const { classList } = document.documentElement;
	classList.add('dark');
	return () => classList.remove('dark');
}
