//! The server: the API, live trackers, the worker that sends what was queued, and the stand-ins.

pub mod api;
pub mod app;
pub mod config;
pub mod demo;
pub mod here;
pub mod letters;
pub mod limits;
pub mod live;
pub mod metrics;
pub mod passkeys;
pub mod pictures;
pub mod post_room;
pub mod present;
pub mod problem;
pub mod refusal;
pub mod rooms;
pub mod secrets;
pub mod serve;
pub mod session;
pub mod settings;
pub mod starting;
pub mod team;
pub mod uploads;
pub mod ways;
pub mod web;
pub mod worker;
