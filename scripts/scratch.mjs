// Scratch databases on the private test cluster.
import pg from 'pg';

async function onCluster(cluster, sql) {
  const client = new pg.Client({ connectionString: cluster });
  await client.connect();
  try {
    await client.query(sql);
  } finally {
    await client.end();
  }
}

export async function createDatabase(cluster, name) {
  await onCluster(cluster, `drop database if exists "${name}" with (force)`);
  await onCluster(cluster, `create database "${name}"`);
  return cluster.replace(/\/postgres$/, `/${name}`);
}

export const dropDatabase = (cluster, name) =>
  onCluster(cluster, `drop database if exists "${name}" with (force)`);
