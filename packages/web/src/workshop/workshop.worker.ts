import { expose } from 'comlink';
import { Workshop, type Model } from './workshop';

async function fetchModel(address: string): Promise<Model> {
  const response = await fetch(address);
  if (!response.ok) throw new Error(`The server answers ${response.status} for the workspace.`);
  return (await response.json()) as Model;
}

expose(new Workshop(fetchModel));
