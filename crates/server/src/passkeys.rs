//! Passkeys: a device proves who somebody is. The checking is the package's; what it asks is kept in the database until the
//! device answers.

use crate::app::App;
use url::Url;
use uuid::Uuid;
use webauthn_rs::{Webauthn, WebauthnBuilder};
use westerfall_core::id::PersonId;

/// What checks passkeys here; nothing where this server is reached by a number: passkeys are of a name. On its own machine it has one.
pub fn passkeys_of(app: &App) -> Option<Webauthn> {
    let mut origin = Url::parse(&app.settings.public_url).ok()?;
    if matches!(origin.host(), Some(url::Host::Ipv4(ip)) if ip.is_loopback()) {
        origin.set_host(Some("localhost")).ok()?;
    }
    let name = origin.domain()?.to_owned();
    WebauthnBuilder::new(&name, &origin).ok()?.rp_name("Westerfall").build().ok()
}

/// How devices know a person.
pub fn handle_of(person: PersonId) -> Uuid {
    Uuid::from_u128(person.get().into())
}

/// The person whom a device means.
pub fn person_of(handle: Uuid) -> Option<PersonId> {
    PersonId::new(u32::try_from(handle.as_u128()).ok()?)
}
