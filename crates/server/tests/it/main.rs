//! The API on a real PostgreSQL, through its real router.

mod access;
mod building;
mod files;
mod fixture;
mod forms;
mod formulas;
mod ground;
mod hostile;
mod lines;
mod live;
mod mail;
mod problems;
mod records;
mod views;
