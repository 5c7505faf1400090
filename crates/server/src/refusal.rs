//! What is refused at the door, before core is asked: one line for each, with its status and its sentence. Which it is goes to
//! the client as a word, so that programs need not read sentences.

use axum::http::StatusCode;
use serde::Serialize;
use utoipa::ToSchema;

/// Why something is refused at the door.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Refusal {
    NoAddress,
    NotThisWay,
    OtherSite,
    OtherName,
    Unreadable,
    AddressUnreadable,
    NotJson,
    NotSentAsJson,
    WrongShape,
    HoldsZero,
    TooMuch,
    BadKey,
    NotSignedIn,
    WrongPassword,
    WrongCode,
    WrongPasscode,
    WrongPasskey,
    PasskeyNotTaken,
    NoPasskeys,
    TooManyPasskeys,
    NotLetIn,
    TicketOver,
    NotTheBeginning,
    LongPassword,
    OnlyLooking,
    OnlyTrying,
    MayNotStandIn,
    NoPerson,
    TooOften,
    TooFast,
    HiddenBox,
    CallNotBelieved,
    NoFile,
    ToldTooMuch,
    FileTooLarge,
    FileGone,
    TooManyPixels,
    FileNotTaken,
    SheetUnreadable,
    PackageUnreadable,
    NoCalendar,
    NoPrinting,
    NotSet,
    NothingToPrint,
    Stopped,
    Busy,
    Unavailable,
    Unknown,
    Internal,
}

impl Refusal {
    /// Its status, and what it says where the case itself says nothing better.
    pub(crate) fn told(self) -> (StatusCode, &'static str) {
        match self {
            Self::NoAddress => (StatusCode::NOT_FOUND, "There is no such address."),
            Self::NotThisWay => (StatusCode::METHOD_NOT_ALLOWED, "This address can’t be used like that."),
            Self::OtherSite => (StatusCode::FORBIDDEN, "This was sent from another site."),
            Self::OtherName => (StatusCode::MISDIRECTED_REQUEST, "This server is reached by another name. Check the address."),
            Self::Unreadable => (StatusCode::BAD_REQUEST, "What was sent could not be read."),
            Self::AddressUnreadable => (StatusCode::BAD_REQUEST, "The address asks for something in a way that can’t be read."),
            Self::NotJson => (StatusCode::BAD_REQUEST, "What was sent is not JSON."),
            Self::NotSentAsJson => (StatusCode::UNSUPPORTED_MEDIA_TYPE, "Send JSON, with the content type application/json."),
            Self::WrongShape => (StatusCode::UNPROCESSABLE_ENTITY, "What was sent has the wrong shape."),
            Self::HoldsZero => (StatusCode::UNPROCESSABLE_ENTITY, "A text that was sent holds the character zero. Take it out."),
            Self::TooMuch => (StatusCode::PAYLOAD_TOO_LARGE, "This is more than can be sent at once. Send less, or smaller files."),
            Self::BadKey => (StatusCode::BAD_REQUEST, "The Idempotency-Key must be from 1 to 200 plain characters."),
            Self::NotSignedIn => (StatusCode::UNAUTHORIZED, "Sign in first."),
            Self::WrongPassword => {
                (StatusCode::UNAUTHORIZED, "This address and password do not fit together. Check both; capitals count in the password.")
            }
            Self::WrongCode => {
                (StatusCode::UNAUTHORIZED, "This code does not fit, or is over. Check it, or have another one mailed to you.")
            }
            Self::WrongPasskey => {
                (StatusCode::UNAUTHORIZED, "This passkey is not known here, or took too long. Try again, or sign in in another way.")
            }
            Self::PasskeyNotTaken => {
                (StatusCode::UNPROCESSABLE_ENTITY, "What the device answered could not be checked, or came too late. Try again.")
            }
            Self::NoPasskeys => {
                (StatusCode::CONFLICT, "Passkeys are of a name: this server is reached by a number, so that there can be none.")
            }
            Self::TooManyPasskeys => (StatusCode::CONFLICT, "You have as many passkeys as one can have. Take one away first."),
            Self::WrongPasscode => (StatusCode::UNAUTHORIZED, "This is not the passcode. Ask whoever gave you the address of this page."),
            Self::NotLetIn => (StatusCode::UNAUTHORIZED, "Say first who you are: this page is not for everybody."),
            Self::TicketOver => (StatusCode::NOT_FOUND, "This address was used already, or is over. Ask for another one."),
            Self::NotTheBeginning => {
                (StatusCode::NOT_FOUND, "A team is begun at the address that the program prints when it starts, and once.")
            }
            Self::LongPassword => (StatusCode::UNPROCESSABLE_ENTITY, "A password has at most 1,000 characters."),
            Self::OnlyLooking => {
                (StatusCode::FORBIDDEN, "You are standing in for somebody, to look. Stop standing in before you change anything.")
            }
            Self::OnlyTrying => {
                (StatusCode::FORBIDDEN, "You look at this page as those would who come to it. Nothing that you write here is kept.")
            }
            Self::MayNotStandIn => {
                (StatusCode::FORBIDDEN, "Only the steward of every tracker that this person opens can stand in for them.")
            }
            Self::NoPerson => (StatusCode::NOT_FOUND, "There is no such person."),
            Self::TooOften => (StatusCode::TOO_MANY_REQUESTS, "That was a lot at once. Wait a little and try again."),
            Self::TooFast => {
                (StatusCode::TOO_MANY_REQUESTS, "That was faster than anybody reads. Look over your answers and send them again.")
            }
            Self::HiddenBox => (
                StatusCode::UNPROCESSABLE_ENTITY,
                "A box that nobody sees was filled in, as programs do. Reload the page, and send your answer again.",
            ),
            Self::CallNotBelieved => (StatusCode::UNAUTHORIZED, "The signature does not fit the call."),
            Self::NoFile => (StatusCode::BAD_REQUEST, "No file was sent."),
            Self::ToldTooMuch => {
                (StatusCode::PAYLOAD_TOO_LARGE, "These are too many lines to be told. Save them as a file and add them from there.")
            }
            Self::FileGone => {
                (StatusCode::GONE, "This file was emptied out of the bin, or lay unused for too long. Its name alone is left.")
            }
            Self::FileTooLarge => (StatusCode::PAYLOAD_TOO_LARGE, "This file is too large."),
            Self::TooManyPixels => (StatusCode::UNPROCESSABLE_ENTITY, "This picture has too many pixels."),
            Self::FileNotTaken => (StatusCode::UNSUPPORTED_MEDIA_TYPE, "This file can’t be taken."),
            Self::SheetUnreadable => (StatusCode::UNPROCESSABLE_ENTITY, "This sheet can’t be read."),
            Self::PackageUnreadable => (StatusCode::UNPROCESSABLE_ENTITY, "This file holds no tracker."),
            Self::NoCalendar => (
                StatusCode::UNPROCESSABLE_ENTITY,
                "Only a calendar has a live address. Make a view of these records that is a calendar, and give that one an address.",
            ),
            Self::NoPrinting => (
                StatusCode::SERVICE_UNAVAILABLE,
                "Printing is being made ready: what sets pages is built after everything else. Try again in a few minutes.",
            ),
            Self::NotSet => (
                StatusCode::UNPROCESSABLE_ENTITY,
                "This could not be set: it takes too long, or more memory than there is. Choose fewer records, or smaller pictures.",
            ),
            Self::NothingToPrint => (StatusCode::UNPROCESSABLE_ENTITY, "There is no record to print. Choose some, or add one."),
            Self::Stopped => (StatusCode::CONFLICT, "Stopped, as you wished. Nothing was changed."),
            Self::Busy => {
                (StatusCode::SERVICE_UNAVAILABLE, "Too much is going on at the moment. Nothing was changed. Try again in a few seconds.")
            }
            Self::Unavailable => (
                StatusCode::SERVICE_UNAVAILABLE,
                "What holds the data does not answer at the moment. Nothing was changed. Try again in a few seconds.",
            ),
            Self::Unknown => (
                StatusCode::SERVICE_UNAVAILABLE,
                "The connection broke on the way, so we don’t know whether this was kept. Look whether it is there before you send it again.",
            ),
            Self::Internal => {
                (StatusCode::INTERNAL_SERVER_ERROR, "Something went wrong on our side. Nothing was changed. Try again in a moment.")
            }
        }
    }

    pub(crate) fn status(self) -> StatusCode {
        self.told().0
    }
}
