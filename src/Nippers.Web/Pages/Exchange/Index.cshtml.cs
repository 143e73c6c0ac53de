using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Exchange;

/// <summary>Brings data in and out.</summary>
public sealed class IndexModel : NippersPage;
