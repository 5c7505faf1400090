//! Who asks, and where: what nearly every handler begins with.

use crate::{
    app::App,
    live::{Done, Live, Look, Wish},
    problem::{Json, Problem},
    refusal::Refusal,
    session::Signed,
};
use axum::{
    extract::{FromRequestParts, RawPathParams},
    http::request::Parts,
};
use std::sync::Arc;
use westerfall_core::{
    access::Asker,
    fault::Fault,
    id::{FormId, PersonId, TrackerId},
    intent::Intent,
};

/// Who asks, however they came.
#[derive(Clone, Debug)]
pub enum Caller {
    /// By a session.
    Signed(Signed),
    /// By a form's link.
    Link(FormId),
}

impl Caller {
    /// As whom they look: the person they stand in for, if they do. Whether they still may is asked at every look.
    pub fn asker(&self) -> Asker {
        match self {
            Self::Signed(Signed { person, stands_in: Some(other), .. }) => Asker::StandingIn { by: *person, r#as: *other },
            Self::Signed(Signed { person, .. }) => Asker::Person(*person),
            Self::Link(form) => Asker::Form(*form),
        }
    }

    /// As whom they act. Standing in is for looking.
    ///
    /// # Errors
    /// If they stand in for somebody.
    pub fn actor(&self) -> Result<Asker, Problem> {
        match self.asker() {
            Asker::StandingIn { .. } => Err(Refusal::OnlyLooking.into()),
            asker => Ok(asker),
        }
    }

    /// Their session.
    ///
    /// # Errors
    /// If they came otherwise.
    pub fn signed(&self) -> Result<&Signed, Problem> {
        match self {
            Self::Signed(signed) => Ok(signed),
            Self::Link(_) => Err(Refusal::NotSignedIn.into()),
        }
    }

    /// Who they are, where that is known.
    ///
    /// # Errors
    /// If they are not signed in.
    pub fn person(&self) -> Result<PersonId, Problem> {
        Ok(self.signed()?.person)
    }
}

impl FromRequestParts<App> for Caller {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Problem> {
        Signed::from_request_parts(parts, app).await.map(Self::Signed)
    }
}

/// Whoever is signed in, if anybody is.
#[derive(Clone, Debug)]
pub struct Perhaps(pub Option<Caller>);

impl Perhaps {
    /// Who that is.
    pub fn person(&self) -> Option<PersonId> {
        self.0.as_ref()?.person().ok()
    }
}

impl FromRequestParts<App> for Perhaps {
    type Rejection = std::convert::Infallible;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Self::Rejection> {
        Ok(Self(Caller::from_request_parts(parts, app).await.ok()))
    }
}

/// A tracker, and who asks in it.
#[derive(Clone)]
pub struct Here {
    pub app: App,
    pub tracker: TrackerId,
    pub live: Arc<Live>,
    pub caller: Caller,
}

impl Here {
    /// The tracker of an address in which it is called so, for somebody.
    ///
    /// # Errors
    /// It is not there.
    pub async fn at(app: &App, tracker: TrackerId, caller: Caller) -> Result<Self, Problem> {
        Ok(Self { app: app.clone(), tracker, live: app.tracker(tracker).await?, caller })
    }

    /// The tracker now, as they may see it.
    ///
    /// # Errors
    /// The tracker does not exist for people who hold no role in it.
    pub fn look(&self) -> Result<Look, Problem> {
        Ok(self.live.look(self.caller.asker())?)
    }

    /// The same for those alone who may change its structure; for others there is no such thing.
    ///
    /// # Errors
    /// They are none of them.
    pub fn look_as_builder(&self, thing: &'static str) -> Result<Look, Problem> {
        let look = self.look()?;
        if look.lens().builds() { Ok(look) } else { Err(Fault::not_found(thing).into()) }
    }

    /// Decides and does for them, now.
    ///
    /// # Errors
    /// What core says against it, or that they only look.
    pub async fn act(&self, intent: Intent) -> Result<Json<Done>, Problem> {
        Ok(Json(self.live.act(self.caller.actor()?, intent).await?))
    }

    /// The same where it may take a while: for somebody who asks by this name how far it has come, and may stop it.
    ///
    /// # Errors
    /// The same, and that it was stopped.
    pub async fn act_awaited(&self, intent: Intent, name: Option<String>) -> Result<Json<Done>, Problem> {
        let awaited = self.app.waits.begin(self.caller.person()?, name);
        let wish = Wish { awaited: Some(Arc::new(awaited)), ..Wish::now(intent, self.caller.actor()?) };
        Ok(Json(self.live.wish(wish).await?))
    }
}

impl FromRequestParts<App> for Here {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Problem> {
        let caller = Caller::from_request_parts(parts, app).await?;
        let unknown = || Problem::from(Fault::not_found("page"));
        let params = RawPathParams::from_request_parts(parts, app).await.map_err(|_| unknown())?;
        let tracker = params.iter().find(|(name, _)| *name == "tracker").and_then(|(_, id)| TrackerId::new(id.parse().ok()?));
        Self::at(app, tracker.ok_or_else(unknown)?, caller).await
    }
}
