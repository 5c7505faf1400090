//! Checks of what people give anywhere: names and addresses.

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
