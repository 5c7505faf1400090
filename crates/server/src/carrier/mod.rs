//! Those who bring messages to their readers: one for each way, behind one trait. What they are handed is ready; what becomes of it is
//! the worker's to keep.

mod layout;
mod service;
mod smtp;

pub use layout::Sheet;
pub use service::{MESSAGE_ID, Service};

use crate::{app::App, replying::Ways, settings::ServiceOut};
use futures::future::BoxFuture;
use smtp::Smtp;
use westerfall_core::people::Channel;
use westerfall_store::{ClaimedMessage, StoreError};

/// Why a message did not go out.
#[derive(Debug)]
pub enum Unsent {
    /// It may, another time.
    ForNow(String),
    /// It is refused for good, or can't be written.
    ForGood(String),
}

impl From<String> for Unsent {
    fn from(reason: String) -> Self {
        Unsent::ForNow(reason)
    }
}

/// What is known of a message whose sending was cut off.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum CutOff {
    /// It is there.
    Arrived,
    /// It is not there, or would be known as the same: it may be sent again.
    Again,
    /// Nobody knows.
    Unsure,
}

/// What a message leads to that its reader may use without signing in.
#[derive(Debug, Default)]
pub struct Links {
    /// How what it asks can be answered.
    pub ways: Option<Ways>,
    /// Where its reader says that they want no more of these.
    pub opt_out: Option<String>,
}

/// A message as it is handed over.
#[derive(Debug)]
pub struct Ready<'a> {
    pub claimed: &'a ClaimedMessage,
    pub links: Links,
    /// What goes along with a mail.
    pub sheet: Option<Sheet>,
    /// The same for every try, so that one that came twice would be known as one.
    pub id: &'a str,
}

/// Whoever brings messages to their readers.
pub trait Carrier: Send + Sync {
    /// What answers: *the mail server*.
    fn name(&self) -> &'static str;

    /// Hands a message over.
    fn carry<'a>(&'a self, app: &'a App, ready: Ready<'a>) -> BoxFuture<'a, Result<(), Unsent>>;

    /// What is known of one whose sending was cut off.
    fn cut_off<'a>(&'a self, app: &'a App, id: &'a str) -> BoxFuture<'a, Result<CutOff, StoreError>>;
}

/// The carriers that an operator set up.
pub struct Carriers {
    mail: Smtp,
    chat: Option<Service>,
    text: Option<Service>,
}

impl std::fmt::Debug for Carriers {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str("Carriers")
    }
}

impl Carriers {
    /// As the settings have them.
    ///
    /// # Errors
    /// The mail server's address can't be understood.
    pub fn new(app: &App) -> Result<Self, String> {
        let settings = &app.settings;
        let service = |channel, out: &Option<ServiceOut>| out.as_ref().map(|out| Service::new(channel, out.clone())).transpose();
        Ok(Self {
            mail: Smtp::new(&settings.mail)?,
            chat: service(Channel::Chat, &settings.chat)?,
            text: service(Channel::Text, &settings.text)?,
        })
    }

    /// Whoever carries what goes by a way; nobody: none was set up.
    pub fn by(&self, channel: Channel) -> Option<&dyn Carrier> {
        match channel {
            Channel::Mail => Some(&self.mail),
            Channel::Chat => self.chat.as_ref().map(|service| service as &dyn Carrier),
            Channel::Text => self.text.as_ref().map(|service| service as &dyn Carrier),
        }
    }
}
