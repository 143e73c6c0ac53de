using Microsoft.AspNetCore.Mvc;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages;

/// <summary>What is shown when a page is missing or something broke.</summary>
[IgnoreAntiforgeryToken]
public sealed class ErrorModel : NippersPage
{
    public int Status { get; private set; } = 500;

    public void OnGet(int? status) => Status = status ?? 500;

    public void OnPost(int? status) => OnGet(status);
}
