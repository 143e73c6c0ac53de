using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Nippers.Web.Pages.Phone;

/// <summary>
/// An empty page that a phone keeps: without a network it is filled from what the phone holds. It says nothing of anybody, and is the
/// same for all.
/// </summary>
public sealed class ShellModel : PageModel;
