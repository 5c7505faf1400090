//! Checks of what people give anywhere: names, addresses, colours.

use crate::{
    fault::{Fault, FaultKind},
    schema::NAME_LIMIT,
};
use email_address::{EmailAddress, Options};

/// A name as people may give one: trimmed, not empty, not too long.
///
/// # Errors
/// [`FaultKind::Missing`] or [`FaultKind::TooLong`], at `/name`.
pub fn check_name(name: &str) -> Result<(), Fault> {
    if name.trim().is_empty() {
        return Err(Fault::new(FaultKind::Missing, "Give it a name.").at("/name"));
    }
    if name.chars().count() > NAME_LIMIT {
        return Err(Fault::new(FaultKind::TooLong, format!("A name has at most {NAME_LIMIT} characters.")).at("/name"));
    }
    Ok(())
}

/// Whether a mail address has the form of one.
///
/// # Errors
/// [`FaultKind::WrongKind`].
pub fn check_mail(text: &str) -> Result<(), Fault> {
    let form = Options::default().with_required_tld().without_display_text().without_domain_literal();
    // Quoted names before the @ exist in the standard and nowhere else.
    if EmailAddress::parse_with_options(text, form).is_ok() && !text.contains('"') && text.len() <= 254 {
        return Ok(());
    }
    Err(Fault::new(FaultKind::WrongKind, "This is not a mail address. It should look like name@place.example."))
}

/// Whether these can be the words in a public address.
///
/// # Errors
/// [`FaultKind::BadRule`].
pub(crate) fn check_link(link: &str) -> Result<(), Fault> {
    let plain = |c: char| c.is_ascii_lowercase() || c.is_ascii_digit() || c == '-';
    if (3..=60).contains(&link.len()) && link.chars().all(plain) {
        return Ok(());
    }
    Err(Fault::new(FaultKind::BadRule, "The address takes small letters, digits and hyphens, from 3 to 60 of them."))
}

/// Whether this is a site's address and nothing more.
pub(crate) fn is_origin(site: &str) -> bool {
    let Some((scheme, host)) = site.split_once("://") else { return false };
    let fits = |c: char| c.is_ascii_alphanumeric() || matches!(c, '.' | '-' | ':');
    matches!(scheme, "https" | "http") && !host.is_empty() && host.chars().all(fits)
}

/// That it is none.
pub(crate) fn not_an_origin(site: &str) -> Fault {
    let message = format!("“{site}” is not a site’s address. Write it like https://www.paths.example, without a path.");
    Fault::new(FaultKind::BadRule, message)
}

/// Whether this is a colour as the web writes them: `#rrggbb`.
pub(crate) fn is_colour(text: &str) -> bool {
    text.len() == 7 && text.starts_with('#') && text[1..].chars().all(|c| c.is_ascii_hexdigit())
}
