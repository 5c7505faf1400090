//! The post room: a stand-in for a mail server, in this program. It speaks real SMTP on loopback and keeps what it receives.

use crate::ways::{self, Door};
use jiff::Timestamp;
use mail_parser::MessageParser;
use mailin::{Action, Handler, Response, SessionBuilder, response};
use std::{
    io::{self, BufRead, BufReader, Read, Write},
    net::{SocketAddr, TcpListener, TcpStream},
    sync::{
        Arc,
        atomic::{AtomicUsize, Ordering},
    },
    time::Duration,
};
use tokio::runtime::Handle;
use westerfall_core::people::Channel;
use westerfall_store::{MessageToKeep, Store};

/// Most connections at once.
const CONNECTIONS: usize = 50;
/// Where the post room behaves as some mail servers do, so that it can be tried how Westerfall bears it: an address there is unknown,
/// is to be tried again later, or is taken slowly.
const UNKNOWN: &str = "@unknown.example";
const LATER: &str = "@later.example";
const SLOW: &str = "@slow.example";
const SLOWLY: Duration = Duration::from_secs(3);
/// Longest line taken, in bytes.
const LINE_LIMIT: u64 = 64 * 1024;

/// Opens the post room at an address of loopback (port 0 takes a free one) and gives the address it has. Mails to a form's
/// address go on to it, once the application is at the door.
///
/// # Errors
/// If no port can be had.
pub fn open(store: Store, address: SocketAddr, largest: usize, door: Door) -> io::Result<SocketAddr> {
    let listener = TcpListener::bind(address)?;
    let address = listener.local_addr()?;
    let desk = Desk { door, store, runtime: Handle::current(), sender: String::new(), recipients: Vec::new(), raw: Vec::new(), largest };
    let open = Arc::new(AtomicUsize::new(0));
    std::thread::Builder::new().name("post room".into()).spawn(move || {
        for stream in listener.incoming().flatten() {
            let (desk, open) = (desk.clone(), open.clone());
            // A mail server that is told to wait comes back by itself.
            if open.fetch_add(1, Ordering::Relaxed) >= CONNECTIONS {
                open.fetch_sub(1, Ordering::Relaxed);
                let mut stream = stream;
                let _ = stream.write_all(b"421 too many connections, try again later\r\n");
                continue;
            }
            std::thread::spawn(move || {
                let served = std::panic::catch_unwind(std::panic::AssertUnwindSafe(|| serve(&stream, desk)));
                if let Ok(Err(error)) = served {
                    tracing::debug!(%error, "a mail connection broke");
                }
                open.fetch_sub(1, Ordering::Relaxed);
            });
        }
    })?;
    Ok(address)
}

/// One connection, line by line.
fn serve(stream: &TcpStream, desk: Desk) -> io::Result<()> {
    stream.set_read_timeout(Some(Duration::from_secs(60)))?;
    let mut session = SessionBuilder::new("post-room.example").build(stream.peer_addr()?.ip(), desk);
    let mut reader = BufReader::new(stream);
    let reply = |response: &Response| {
        let mut bytes = Vec::new();
        response.write_to(&mut bytes)?;
        let mut out = stream;
        out.write_all(&bytes)
    };
    reply(&session.greeting())?;
    let mut line = Vec::new();
    loop {
        line.clear();
        if reader.by_ref().take(LINE_LIMIT).read_until(b'\n', &mut line)? == 0 {
            return Ok(());
        }
        let response = session.process(&line);
        match response.action {
            Action::NoReply => {}
            Action::Reply => reply(&response)?,
            Action::Close | Action::UpgradeTls => return reply(&response),
        }
    }
}

/// Takes the mail of one connection.
#[derive(Clone)]
struct Desk {
    door: Door,
    store: Store,
    runtime: Handle,
    sender: String,
    recipients: Vec<String>,
    raw: Vec<u8>,
    /// Largest mail taken, in bytes.
    largest: usize,
}

impl Handler for Desk {
    fn rcpt(&mut self, to: &str) -> Response {
        let to = to.trim_matches(['<', '>']).to_lowercase();
        match () {
            () if to.ends_with(UNKNOWN) => return response::NO_MAILBOX,
            () if to.ends_with(LATER) => return response::INTERNAL_ERROR,
            () if to.ends_with(SLOW) => std::thread::sleep(SLOWLY),
            () => {}
        }
        response::OK
    }

    fn data_start(&mut self, _domain: &str, from: &str, _is8bit: bool, to: &[String]) -> Response {
        self.sender = from.to_owned();
        self.recipients = to.to_vec();
        self.raw.clear();
        response::OK
    }

    fn data(&mut self, bytes: &[u8]) -> io::Result<()> {
        if self.raw.len() + bytes.len() > self.largest {
            return Err(io::Error::other("mail too large"));
        }
        self.raw.extend_from_slice(bytes);
        Ok(())
    }

    fn data_end(&mut self) -> Response {
        let raw = std::mem::take(&mut self.raw);
        let Some(mail) = MessageParser::default().parse(&raw) else { return response::INTERNAL_ERROR };
        let message_id = mail.message_id().map(ways::plain).unwrap_or_default();
        let subject = mail.subject().map(ways::plain).unwrap_or_default();
        let body = mail.body_text(0).map(|text| ways::plain(&text)).unwrap_or_default();
        for recipient in &self.recipients {
            let message = MessageToKeep {
                message_id: message_id.clone(),
                by: Some(Channel::Mail),
                sender: self.sender.clone(),
                recipient: recipient.trim_matches(['<', '>']).to_owned(),
                subject: subject.clone(),
                body: body.clone(),
                raw: raw.clone(),
            };
            // Only what is kept is acknowledged.
            if let Err(error) = self.runtime.block_on(self.store.keep_message(&message, Timestamp::now())) {
                tracing::error!(%error, "the post room could not keep a mail");
                return response::INTERNAL_ERROR;
            }
            if let Some(app) = self.door.get()
                && let Some(Err(refused)) = self.runtime.block_on(ways::deliver(app, &message.recipient, &self.sender, &raw))
            {
                // It is in the post room, and the form's log says why it went no further.
                tracing::info!(refused = refused.told(), recipient = message.recipient, "a mail was not taken at its address");
            }
        }
        response::OK
    }
}
