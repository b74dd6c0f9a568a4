/** That changes of a view wait for the service. */
export const heldInWords = (count: number): string =>
  `The service can’t be reached. ${count === 1 ? 'One change is' : `${count} changes are`} not saved yet and sent again by itself.`;
