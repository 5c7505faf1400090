//! One-time ways in, and the letters that carry them. Of a token the database knows only the hash; the letter goes with the
//! outbox, which forgets it once it is sent.

use crate::{
    app::App,
    problem::Problem,
    secrets::{hash, random_hex},
};
use jiff::{SignedDuration, Timestamp};
use rand::Rng;
use westerfall_core::{
    access::Asker,
    automation::Message,
    id::{GuestId, PersonId, TrackerId},
    inbox::{Elsewhere, MORNING, News, Notice, NoticeTold, WISHES, bare_notice},
    page::Guest,
    people::{Person, Reached},
    sentence::as_text,
    talk::Comment,
    team::{Letter, Team},
};
use westerfall_store::{MAILED, NewTicket, NoticeRow, PageAt, Purpose, TalkAt, invitation_kind};

/// How long each is good for.
const INVITED: SignedDuration = SignedDuration::from_mins(14 * 24 * 60);
const PASSWORD: SignedDuration = SignedDuration::from_mins(30);
const CODE: SignedDuration = SignedDuration::from_mins(10);
const ADDRESS: SignedDuration = SignedDuration::from_mins(24 * 60);
/// Digits of a code that is typed.
const DIGITS: u32 = 8;

/// Whom a letter is for, and what the team is called.
struct Reader {
    team: std::sync::Arc<Team>,
    person: Person,
}

/// With what the keys of those letters begin that tell what others did.
const NEWS: &str = "news";
const SAID: &str = "said";

/// Whether a letter with this key tells what others did, and was not asked for.
pub fn comes_by_itself(key: &str) -> bool {
    matches!(key.split(' ').next(), Some(NEWS | SAID))
}

impl App {
    fn reader(&self, person: PersonId) -> Option<Reader> {
        let team = self.team.now();
        let person = team.people().get(person).filter(|p| !p.has_left())?.clone();
        Some(Reader { team, person })
    }

    /// Keeps a new ticket and gives its token.
    async fn ticket(&self, person: PersonId, purpose: Purpose, about: &str, lasts: SignedDuration) -> Result<String, Problem> {
        let token = random_hex(32);
        let made = Timestamp::now();
        self.store.give_ticket(&NewTicket { token_hash: &hash(&token), person, purpose, about, made, expires: made + lasts }).await?;
        Ok(token)
    }

    async fn post(&self, reader: &Reader, address: &str, kind: &str, letter: &Letter<'_>) -> Result<(), Problem> {
        let message = letter.to(&reader.team, &reader.person, Reached::by_mail(address), &format!("{kind} {}", random_hex(8)));
        self.queue(&message).await
    }

    /// What comes by itself: by the way that its reader chose.
    async fn reach(&self, reader: &Reader, cause: &str, letter: &Letter<'_>) -> Result<(), Problem> {
        let Some(at) = reader.person.reached() else { return Ok(()) };
        let person = Some(reader.person.id);
        self.queue(&Message { person, ..letter.to(&reader.team, &reader.person, at, cause) }).await
    }

    async fn queue(&self, message: &Message) -> Result<(), Problem> {
        self.store.queue_team_mail(message, Timestamp::now()).await?;
        self.queued.notify_waiters();
        Ok(())
    }

    fn address_of(&self, page: &str, token: &str) -> String {
        format!("{}/{page}/{token}", self.settings.public_url)
    }

    /// An address by which somebody comes in, to be handed over by hand.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn invitation_link(&self, person: PersonId) -> Result<String, Problem> {
        Ok(self.address_of("come-in", &self.ticket(person, Purpose::Invitation, "", INVITED).await?))
    }

    /// The same by mail, with a word of whoever invites them.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn mail_invitation(&self, person: PersonId, by: PersonId, word: &str) -> Result<(), Problem> {
        let Some(reader) = self.reader(person) else { return Ok(()) };
        let link = self.address_of("come-in", &self.ticket(person, Purpose::Invitation, MAILED, INVITED).await?);
        let by = reader.team.people().name(by).to_owned();
        let address = reader.person.mail.clone();
        self.post(&reader, &address, &invitation_kind(person), &Letter::Invitation { by: &by, word, link: &link }).await
    }

    /// Another password, for whoever reads the mail of that person.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn mail_password(&self, person: PersonId) -> Result<(), Problem> {
        let Some(reader) = self.reader(person) else { return Ok(()) };
        let link = self.address_of("password", &self.ticket(person, Purpose::Password, "", PASSWORD).await?);
        let address = reader.person.mail.clone();
        self.post(&reader, &address, "private", &Letter::Password { link: &link }).await
    }

    /// What was said about a record, for whoever it reaches. Sent once, however often it is asked for.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn mail_said(&self, at: TalkAt, to: PersonId, by: PersonId, said: &Comment, of: &str, line: &str) -> Result<(), Problem> {
        let Some(reader) = self.reader(to) else { return Ok(()) };
        let TalkAt { tracker, table, record } = at;
        let dataset = self.tracker(tracker).await?.now();
        let link = format!("{}/t/{tracker}/{table}/r/{record}", self.settings.public_url);
        let by = reader.team.people().name(by).to_owned();
        let letter = Letter::Spoken { by: &by, of, tracker: &dataset.tracker.name, said: line, link: &link };
        let key = format!("{SAID} {tracker} {table} {record} {} to {to}", said.id);
        self.reach(&reader, &key, &letter).await
    }

    /// A letter to one of the team, once for its cause.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn mail_letter(&self, person: PersonId, cause: &str, letter: &Letter<'_>) -> Result<(), Problem> {
        let Some(reader) = self.reader(person) else { return Ok(()) };
        self.reach(&reader, cause, letter).await
    }

    /// When something of their inbox reaches somebody elsewhere, too.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn elsewhere(&self, person: PersonId, word: &str) -> Result<Elsewhere, Problem> {
        let by_itself = WISHES.iter().find(|(known, ..)| *known == word).map_or(Elsewhere::Never, |(.., by_itself)| *by_itself);
        Ok(self.store.inbox_wishes(person).await?.get(word).copied().unwrap_or(by_itself))
    }

    /// A notice as its reader may be told it now; nothing: it may not.
    async fn told(&self, tracker: Option<TrackerId>, notice: &Notice, team: &Team) -> Result<Option<NoticeTold>, Problem> {
        Ok(match tracker {
            Some(tracker) => self.tracker(tracker).await?.look(Asker::Person(notice.to)).ok().and_then(|look| look.lens().notice(notice)),
            None => bare_notice(notice, notice.by.map_or("Somebody", |by| team.people().name(by))),
        })
    }

    /// What came into somebody's inbox since a moment that they have not read and want to be told once a day, a line each, the earliest
    /// first.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn daily_news(&self, person: PersonId, since: Timestamp) -> Result<Vec<String>, Problem> {
        let said = self.store.inbox_wishes(person).await?;
        let wanted =
            |(word, _, by_itself): &&(&str, &str, Elsewhere)| *word != MORNING && said.get(*word).unwrap_or(by_itself) == &Elsewhere::Daily;
        let daily: Vec<&str> = WISHES.iter().filter(wanted).map(|(word, ..)| *word).collect();
        let mut lines = Vec::new();
        if daily.is_empty() {
            return Ok(lines);
        }
        let team = self.team.now();
        let fresh = |row: &NoticeRow| !row.read && row.at >= since && daily.contains(&row.notice.of.word());
        for row in self.store.notices(person).await?.iter().rev().filter(|row| fresh(row)) {
            let Some(told) = self.told(row.tracker, &row.notice, &team).await? else { continue };
            let of = told.name.map_or_else(String::new, |name| format!("“{name}”"));
            let quote = told.quote.map_or_else(String::new, |quote| format!(": {quote}"));
            lines.push(format!("{}{of}{quote}", as_text(&told.says)));
        }
        Ok(lines)
    }

    /// What stands in somebody's inbox, where they want it elsewhere at once, too: as they may be told it now.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn mail_news(&self, tracker: Option<TrackerId>, notice: &Notice) -> Result<(), Problem> {
        // What is said has a letter of its own.
        if matches!(notice.of, News::Said(_)) || self.elsewhere(notice.to, notice.of.word()).await? != Elsewhere::AtOnce {
            return Ok(());
        }
        let Some(reader) = self.reader(notice.to) else { return Ok(()) };
        let Some(told) = self.told(tracker, notice, &reader.team).await? else { return Ok(()) };
        let link = match (tracker, notice.about) {
            (Some(tracker), Some((table, record))) => format!("{}/t/{tracker}/{table}/r/{record}", self.settings.public_url),
            (Some(tracker), None) => format!("{}/t/{tracker}", self.settings.public_url),
            _ => format!("{}/rounds", self.settings.public_url),
        };
        let of = told.name.map_or_else(String::new, |name| format!("“{name}”"));
        let cause = format!("{NEWS} {}", random_hex(8));
        self.reach(&reader, &cause, &Letter::News { line: &as_text(&told.says), of: &of, link: &link }).await
    }

    /// A code to sign in with, for whoever reads the mail of that person.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn mail_code(&self, person: PersonId) -> Result<(), Problem> {
        let Some(reader) = self.reader(person) else { return Ok(()) };
        let code = new_code();
        let made = Timestamp::now();
        let token_hash = code_hash(person, &code);
        let ticket = NewTicket { token_hash: &token_hash, person, purpose: Purpose::Code, about: "", made, expires: made + CODE };
        self.store.give_ticket(&ticket).await?;
        let address = reader.person.mail.clone();
        self.post(&reader, &address, "private", &Letter::Code { code: &in_two(&code) }).await
    }

    /// A code with which somebody outside comes to a shared page that names their address.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn mail_page_code(&self, at: PageAt, title: &str, guest: &Guest) -> Result<(), Problem> {
        let code = new_code();
        self.store.give_page_code(at, guest.id, &page_code_hash(at, guest.id, &code), Timestamp::now() + CODE).await?;
        let name = if guest.name.is_empty() { guest.mail.clone() } else { guest.name.clone() };
        let reader = Reader { team: self.team.now(), person: Person::new(PersonId::FIRST, name, &guest.mail) };
        self.post(&reader, &guest.mail, "private", &Letter::PageCode { page: title, code: &in_two(&code) }).await
    }

    /// Asks at both addresses whether one shall take the place of the other.
    ///
    /// # Errors
    /// The database refuses.
    pub async fn mail_addresses(&self, person: PersonId, new: &str) -> Result<(), Problem> {
        let Some(reader) = self.reader(person) else { return Ok(()) };
        let link = self.address_of("address", &self.ticket(person, Purpose::NewAddress, new, ADDRESS).await?);
        self.post(&reader, new, "private", &Letter::NewAddress { link: &link }).await?;
        if reader.person.mail.is_empty() {
            return Ok(());
        }
        let link = self.address_of("address", &self.ticket(person, Purpose::OldAddress, new, ADDRESS).await?);
        let old = reader.person.mail.clone();
        self.post(&reader, &old, "private", &Letter::OldAddress { new, link: &link }).await
    }
}

fn new_code() -> String {
    let number = rand::rng().next_u64() % 10_u64.pow(DIGITS);
    format!("{number:0width$}", width = DIGITS as usize)
}

/// A code as it is read and typed: in two halves.
fn in_two(code: &str) -> String {
    let (first, last) = code.split_at(code.len() / 2);
    format!("{first} {last}")
}

/// The hash of a code for a page: the same code of two people, or of two pages, has two.
pub fn page_code_hash(at: PageAt, guest: GuestId, code: &str) -> Vec<u8> {
    let digits: String = code.chars().filter(char::is_ascii_digit).collect();
    hash(&format!("{}:{}:{guest}:{digits}", at.tracker, at.page))
}

/// What is looked for where nobody is meant: no code has its hash.
pub const NOBODY: &str = "nobody";

/// The hash of a code: the same code of two people has two.
pub fn code_hash(person: PersonId, code: &str) -> Vec<u8> {
    let digits: String = code.chars().filter(char::is_ascii_digit).collect();
    hash(&format!("{person}:{digits}"))
}
