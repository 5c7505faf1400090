//! Limits on how often somebody may ask: by client address, and where one signs in by account too. What is counted for one
//! purpose is not counted for another, so that guessing passwords never closes a form to others.

use crate::{problem::Problem, settings::Settings};
use axum::{
    Router,
    extract::ConnectInfo,
    http::{HeaderMap, Request},
    response::{IntoResponse, Response},
};
use std::{
    net::{IpAddr, Ipv4Addr, SocketAddr},
    num::NonZeroU32,
    sync::Arc,
    time::Duration,
};
use tower_governor::{GovernorError, GovernorLayer, governor::GovernorConfigBuilder, key_extractor::KeyExtractor};

/// How often counts of those who ask no more are forgotten.
const SWEEP: Duration = Duration::from_secs(60);

/// Whom a limit counts: the address of the client, behind the operator's own proxies.
#[derive(Clone, Copy, Debug)]
pub struct Client {
    proxies: usize,
}

impl Client {
    /// As the server was set up.
    pub fn behind(settings: &Settings) -> Self {
        Self { proxies: settings.proxies }
    }

    /// The address of whoever sent a request. Each of our proxies puts the address that it saw at the end of
    /// `X-Forwarded-For`; what stands before those, anybody may have written.
    pub fn address(self, peer: Option<IpAddr>, headers: &HeaderMap) -> IpAddr {
        let peer = peer.unwrap_or(IpAddr::V4(Ipv4Addr::UNSPECIFIED));
        if self.proxies == 0 {
            return peer;
        }
        let lists = headers.get_all("x-forwarded-for").iter().filter_map(|v| v.to_str().ok());
        let seen: Vec<&str> = lists.flat_map(|list| list.split(',')).map(str::trim).collect();
        let place = seen.len().checked_sub(self.proxies);
        place.and_then(|place| seen.get(place)?.parse().ok()).unwrap_or(peer)
    }
}

impl KeyExtractor for Client {
    type Key = IpAddr;

    fn extract<T>(&self, request: &Request<T>) -> Result<IpAddr, GovernorError> {
        let peer = request.extensions().get::<ConnectInfo<SocketAddr>>().map(|info| info.0.ip());
        Ok(network(self.address(peer, request.headers())))
    }
}

/// What one household or server has: of the newer addresses, the first half.
fn network(address: IpAddr) -> IpAddr {
    match address {
        IpAddr::V6(v6) => match v6.to_ipv4_mapped() {
            Some(v4) => IpAddr::V4(v4),
            None => {
                let mut octets = v6.octets();
                octets[8..].fill(0);
                IpAddr::from(octets)
            }
        },
        v4 => v4,
    }
}

/// So many requests at once from one client, and one more each so many milliseconds.
pub fn limit<S: Clone + Send + Sync + 'static>(routes: Router<S>, client: Client, milliseconds: u64, burst: u32) -> Router<S> {
    let config = GovernorConfigBuilder::default().per_millisecond(milliseconds).burst_size(burst).key_extractor(client).finish();
    let Some(config) = config else { return routes };
    let limiter = config.limiter().clone();
    if let Ok(runtime) = tokio::runtime::Handle::try_current() {
        let weak = Arc::downgrade(&limiter);
        runtime.spawn(async move {
            loop {
                tokio::time::sleep(SWEEP).await;
                match weak.upgrade() {
                    Some(limiter) => limiter.retain_recent(),
                    None => return,
                }
            }
        });
    }
    routes.layer(GovernorLayer::new(Arc::new(config)).error_handler(limited))
}

fn limited(error: GovernorError) -> Response {
    match error {
        GovernorError::TooManyRequests { wait_time, .. } => Problem::too_often(wait_time).into_response(),
        _ => Problem::internal("the limiter could not tell who asks").into_response(),
    }
}

/// Tries to sign in to one account from one network: a few at once, then one in a while. Others who use the account are not held up.
#[derive(Debug)]
pub struct SignIns(governor::DefaultKeyedRateLimiter<(String, IpAddr)>);

impl SignIns {
    /// So many tries at once.
    pub fn new(burst: u32) -> Self {
        let quota = governor::Quota::with_period(Duration::from_secs(15)).unwrap_or(governor::Quota::per_minute(NonZeroU32::MIN));
        Self(governor::RateLimiter::keyed(quota.allow_burst(NonZeroU32::new(burst).unwrap_or(NonZeroU32::MIN))))
    }

    /// Counts a try.
    ///
    /// # Errors
    /// Too many were made.
    pub fn may_try(&self, mail: &str, client: IpAddr) -> Result<(), Problem> {
        self.0.retain_recent();
        let key = (mail.trim().to_lowercase().chars().take(254).collect(), network(client));
        self.0.check_key(&key).map_err(|_| Problem::too_often(15))
    }
}
